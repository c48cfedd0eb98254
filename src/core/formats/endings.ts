import type { AudioFormat } from './audioFormat';

/** What names of audio and MIDI end with. */
export const AUDIO_EXTENSIONS =
  /\.(wav|wave|bwf|rf64|aiff?|aifc|flac|mp3|ogg|oga|opus|m4a|m4b|mp4|mid|midi|smf)$/i;

/** What files of a format usually end with. */
const USUAL: Readonly<Record<AudioFormat, string>> = {
  wav: '.wav',
  aiff: '.aiff',
  flac: '.flac',
  mp3: '.mp3',
  'ogg-vorbis': '.ogg',
  'ogg-opus': '.opus',
  'ogg-flac': '.oga',
  mp4: '.m4a',
  midi: '.mid',
};
export const usualEnding = (format: AudioFormat): string => USUAL[format];

/** A name as stem and ending; an ending is only what names of audio end with: "Rope 88.4" has none. */
export function stemAndEnding(name: string): [stem: string, ending: string] {
  const ending = AUDIO_EXTENSIONS.exec(name)?.[0] ?? '';
  return ending.length < name.length ? [name.slice(0, name.length - ending.length), ending] : [name, ''];
}

/** A name that ends as files of its format do: what was made here may have none of its own. */
export function withEnding(name: string, format: string | null): string {
  return stemAndEnding(name)[1] !== '' || format === null || !(format in USUAL)
    ? name
    : name + USUAL[format as AudioFormat];
}
