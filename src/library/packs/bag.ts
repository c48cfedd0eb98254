import { stringify } from 'csv-stringify/sync';
import type { Pack } from '@/contract/pack';
import { safeStem } from './fileNames';
import { ownSchema } from './own';
import { playList } from './playList';
import { dataPackage, tableCells, type TableRow } from './table';

/** A file of a pack's payload: its path from `data/`, length in bytes, and SHA-256 in hexadecimal digits. */
export interface BagFile {
  path: string;
  byteLength: number;
  sha256: string;
}

export interface TextFile {
  path: string;
  text: string;
}

/** One sample as it came into a pack: its line of the table, where its file stands, and how long it lasts, seconds. */
export interface BagSample {
  row: TableRow;
  durationSeconds: number | null;
}

interface Written {
  pack: Pack;
  samples: readonly BagSample[];
  /** When it was written, ISO text: the same pack always comes to the same bytes. */
  writtenAt: string;
  /** What could not be written, in sentences. */
  faults: readonly string[];
}

const TABLE = 'samples.csv';

/** The folder that all of a pack lies in, and with `.zip` its file's name. */
export const bagName = ({ name }: Pack): string => safeStem(name);

/** The lists of a pack, from `data/`: the table and what describes it, a play list, licences, and what is missing. */
export function listsOf({ pack, samples, writtenAt, faults }: Written): TextFile[] {
  const rows = samples.map(({ row }) => row);
  const json = (value: object) => `${JSON.stringify(value, null, 2)}\n`;
  return [
    { path: TABLE, text: stringify(tableCells(rows), { record_delimiter: 'windows' }) },
    { path: 'datapackage.json', text: json(dataPackage(pack, TABLE, writtenAt)) },
    { path: 'playlist.m3u8', text: packList(pack, samples) },
    { path: 'licences.txt', text: licences(pack, rows) },
    ...(pack.annotations ? [{ path: 'annotations/grento.schema.json', text: json(ownSchema()) }] : []),
    ...(faults.length > 0 ? [{ path: 'what is missing.txt', text: `${faults.join('\n')}\n` }] : []),
  ];
}

/** The files of a pack one after the other. */
function packList({ name: pack, atTarget }: Pack, samples: readonly BagSample[]): string {
  const listed = samples.flatMap(({ row, durationSeconds }) => {
    const path = (atTarget && row.file_at_target) || row.file;
    const made = atTarget ? row.at_target_duration_s : null;
    if (typeof path !== 'string') return [];
    return [{ path, seconds: typeof made === 'number' ? made : durationSeconds }];
  });
  return playList(pack, listed);
}

/** Who may do what with which sample, and where it comes from. */
function licences({ name, licence, about }: Pack, rows: readonly TableRow[]): string {
  const by = new Map<string, string[]>();
  for (const row of rows) {
    const terms = String(row.licence || 'not stated');
    const origin = row.origin ? `, from ${String(row.origin)}` : '';
    by.set(terms, [
      ...(by.get(terms) ?? []),
      `  ${String(row.file ?? row.file_at_target ?? row.name)}${origin}`,
    ]);
  }
  return [
    name,
    ...(about ? ['', about] : []),
    '',
    `The pack as a whole: ${licence || 'not stated; see the licence of each sample.'}`,
    ...[...by].sort(([a], [b]) => (a < b ? -1 : 1)).flatMap(([terms, files]) => ['', `${terms}:`, ...files]),
    '',
  ].join('\n');
}

/** A path as manifests hold it (RFC 8493, 2.1.3): line ends and the percent sign are encoded. */
const inManifest = (path: string) =>
  path.replace(/[%\r\n]/g, (mark) => `%${mark.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`);

/** The checksums of a manifest by path from the bag's folder; lines that are none are passed over. */
export function readManifest(text: string): Map<string, string> {
  const sums = new Map<string, string>();
  for (const line of text.split(/\r\n|\n|\r/)) {
    const [, sha256, path] = /^([0-9a-f]{64})\s+(?:\.\/)?(.+)$/i.exec(line) ?? [];
    if (path)
      sums.set(
        path.replace(/%(0A|0D|25)/gi, (_, code: string) => String.fromCharCode(parseInt(code, 16))),
        sha256.toLowerCase(),
      );
  }
  return sums;
}

const manifest = (files: readonly Pick<BagFile, 'path' | 'sha256'>[]) =>
  files.map(({ path, sha256 }) => `${sha256}  ${inManifest(path)}\n`).join('');

/**
 * What makes a folder a bag (BagIt 1.0, RFC 8493): its declaration, what it is, and checksums of everything. `payload`: all files, from
 * `data/`; `hash`: SHA-256 of a text in UTF-8.
 */
export function tagFilesOf(
  { pack, writtenAt }: Pick<Written, 'pack' | 'writtenAt'>,
  payload: readonly BagFile[],
  hash: (text: string) => string,
): TextFile[] {
  const bytes = payload.reduce((sum, { byteLength }) => sum + byteLength, 0);
  const oneLine = (text: string) => text.replace(/\s+/g, ' ').trim();
  const info = [
    ['External-Identifier', pack.name],
    ['External-Description', oneLine(pack.about)],
    ['Bagging-Date', writtenAt.slice(0, 10)],
    ['Bag-Software-Agent', 'Grento'],
    ['Payload-Oxum', `${bytes}.${payload.length}`],
  ].filter(([, value]) => value !== '');
  const tags: TextFile[] = [
    { path: 'bagit.txt', text: 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n' },
    { path: 'bag-info.txt', text: info.map(([label, value]) => `${label}: ${value}\n`).join('') },
    {
      path: 'manifest-sha256.txt',
      text: manifest(payload.map(({ path, sha256 }) => ({ sha256, path: `data/${path}` }))),
    },
  ];
  const sums = tags.map(({ path, text }) => ({ path, sha256: hash(text) }));
  return [...tags, { path: 'tagmanifest-sha256.txt', text: manifest(sums) }];
}
