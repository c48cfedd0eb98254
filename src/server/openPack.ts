import { readManifest } from '@/library/packs/bag';
import { ownFile, ownPathOf, type OwnFile } from '@/library/packs/own';

/** What a pack says of one of its samples. */
export interface PackNote {
  /** What its bytes are to be. */
  sha256: string;
  /** All that is known of it; null where the pack does not say, or `fault` tells why that cannot be read. */
  own: OwnFile | null;
  fault: string | null;
}

/** A pack of Grento's that was found in an archive. */
export interface OpenPack {
  /** The folder of the pack's own that one of its samples lies in, '' for none; null for any other file of the archive. */
  folderOf: (path: string) => string | null;
  /** What it says of one of them; null where it is none, or stands in no manifest. */
  noteOf: (path: string) => Promise<PackNote | null>;
}

/**
 * Finds the pack in an archive: one folder that is a bag with samples and what Grento knows of them. Null for any other archive.
 * `textOf`: a file of it as text, null where there is none, or it is too large.
 */
export async function openPack(
  paths: readonly string[],
  textOf: (path: string) => Promise<string | null>,
): Promise<OpenPack | null> {
  const root = /^([^/]+\/)bagit\.txt$/.exec(paths.find((path) => path.endsWith('/bagit.txt')) ?? '')?.[1];
  if (root === undefined) return null;
  const samples = `${root}data/samples/`;
  const about = new Set(paths.filter((path) => path.startsWith(`${root}data/annotations/`)));
  const ownOf = (path: string) => `${root}data/${ownPathOf(path.slice(`${root}data/`.length))}`;
  const isSample = (path: string) => path.startsWith(samples);
  const folderOf = (path: string) =>
    isSample(path) ? path.slice(samples.length).split('/').slice(0, -1).join('/') : null;
  if (!paths.some((path) => isSample(path) && about.has(ownOf(path)))) return null;
  const manifest = readManifest((await textOf(`${root}manifest-sha256.txt`)) ?? '');
  return {
    folderOf,
    async noteOf(path) {
      const sha256 = manifest.get(path.slice(root.length));
      if (!sha256 || !isSample(path)) return null;
      // What is damaged is told like what is not understood.
      const text = about.has(ownOf(path)) ? await textOf(ownOf(path)).catch(() => '') : null;
      const own = text === null ? null : read(text);
      return {
        ...{ sha256, own },
        fault:
          text !== null && !own
            ? `“${ownOf(path)}” is not written by Grento, or by a newer version; its sample was imported without it.`
            : null,
      };
    },
  };
}

/** NUL, and halves of characters that take two: no database keeps them. */
const NO_TEXT = /\\u0000|\\u[dD][89a-fA-F][0-9a-fA-F]{2}|\0|\p{Surrogate}/u;

/** What a pack knows of a sample; null for what is not that. */
function read(text: string): OwnFile | null {
  try {
    const own = ownFile.parse(JSON.parse(text));
    return NO_TEXT.test(JSON.stringify(own)) ? null : own;
  } catch {
    return null;
  }
}
