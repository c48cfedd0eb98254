import { File, Id3v2FrameIdentifiers, TagTypes, type Id3v2Tag, type XiphComment } from 'node-taglib-sharp';
import type { AudioFormat } from '@/core/formats/audioFormat';

export interface OpenTags {
  tempoBpm: number | null;
  /** As ID3v2 spells it: "C", "F#m", "Bbm"; "o" for material without a key. */
  key: string | null;
  comment: string;
}

const EXTENSIONS: Record<AudioFormat, string> = {
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

/** The usual file name extension of a format; the tag writer goes by it. */
export function extensionOf(format: AudioFormat): string {
  return EXTENSIONS[format];
}

/**
 * Writes tempo, key and a comment into the open tag of the file at `path`: ID3v2 for MP3, WAV and AIFF,
 * Vorbis comments for FLAC and Ogg. The audio stays as it is. Throws what the tag writer throws for
 * files that it cannot understand.
 */
export function writeOpenTags(path: string, format: AudioFormat, { tempoBpm, key, comment }: OpenTags): void {
  const file = File.createFromPath(path);
  try {
    const tempo = tempoBpm === null ? null : String(Math.round(tempoBpm * 1000) / 1000);
    if (format === 'mp3' || format === 'wav' || format === 'aiff') {
      const tag = file.getTag(TagTypes.Id3v2, true) as Id3v2Tag;
      tag.version = 4;
      if (tempo) tag.setTextFrame(Id3v2FrameIdentifiers.TBPM, tempo);
      if (key) tag.setTextFrame(Id3v2FrameIdentifiers.TKEY, key);
      if (comment) tag.comment = comment;
      if (format === 'wav' && comment) file.getTag(TagTypes.RiffInfo, true).comment = comment;
    } else if (format === 'mp4') {
      const tag = file.getTag(TagTypes.Apple, true);
      // The atom holds whole numbers; the exact tempo stands in the comment.
      if (tempoBpm !== null) tag.beatsPerMinute = Math.round(tempoBpm);
      if (key) tag.initialKey = key;
      tag.comment = [tempo && `${tempo} bpm`, comment].filter(Boolean).join('; ');
    } else {
      const tag = file.getTag(TagTypes.Xiph, true) as XiphComment;
      if (tempo) tag.setFieldAsStrings('BPM', tempo);
      if (key) {
        tag.setFieldAsStrings('KEY', key);
        tag.setFieldAsStrings('INITIALKEY', key);
      }
      if (comment) tag.comment = comment;
    }
    file.save();
  } finally {
    file.dispose();
  }
}
