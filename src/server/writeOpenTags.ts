import {
  File,
  Id3v2FrameIdentifiers,
  TagTypes,
  type Id3v2Tag,
  WaveFileSettings,
  type XiphComment,
} from 'node-taglib-sharp';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { withOggFlacTags } from '@/core/formats/oggFlacTags';
import type { AudioFormat } from '@/core/formats/audioFormat';
import type { OpenTags } from '@/library/samples/openTags';

// Of the tags that a WAV file may have only these are made: others would be empty.
WaveFileSettings.defaultTagTypes = TagTypes.Id3v2 | TagTypes.RiffInfo;

/** Ogg FLAC is unknown to the tag writer. */
async function writeOggFlacTags(path: string, { tempoBpm, key, comment }: OpenTags): Promise<void> {
  const tempo: Record<string, string> =
    tempoBpm === null ? {} : { BPM: String(Math.round(tempoBpm * 1000) / 1000) };
  const fields = {
    ...tempo,
    ...(key ? { KEY: key, INITIALKEY: key } : {}),
    ...(comment ? { COMMENT: comment } : {}),
  };
  const target = `${path}.tagged`;
  await pipeline(Readable.from(withOggFlacTags(createReadStream(path), fields)), createWriteStream(target));
  await rename(target, path);
}

/**
 * Writes tempo, key and a comment into the open tag of the file at `path`: ID3v2 for MP3, WAV and AIFF,
 * Vorbis comments for FLAC and Ogg. The audio stays as it is. Throws what the tag writer throws for
 * files that it cannot understand.
 */
export async function writeOpenTags(path: string, format: AudioFormat, tags: OpenTags): Promise<void> {
  if (format === 'ogg-flac') return writeOggFlacTags(path, tags);
  const { tempoBpm, key, comment } = tags;
  const file = File.createFromPath(path);
  try {
    const tempo = tempoBpm === null ? null : String(Math.round(tempoBpm * 1000) / 1000);
    if (format === 'mp3' || format === 'wav' || format === 'aiff') {
      // A tag that is there keeps its version: brought to another, its fields would become others.
      const isNew = !(file.getTag(TagTypes.Id3v2, false) as Id3v2Tag | undefined)?.frames.length;
      const tag = file.getTag(TagTypes.Id3v2, true) as Id3v2Tag;
      if (isNew) tag.version = 4;
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
