import { z } from 'zod';

/** What a file of the mirror was when it was written: as long as it is that, it is the mirror's own. */
const written = z.object({ size: z.number(), mtimeMs: z.number() });
export type Written = z.infer<typeof written>;

/** What the mirror knows of a file that it wrote. */
export const mirrored = z.object({
  /** The sample that it holds; null: a play list. */
  sampleId: z.uuid().nullable(),
  /** What was written of it: another one is written anew. */
  state: z.string(),
  seconds: z.number().nullable(),
  /** The name that it was to have; where another one had that already it is numbered. */
  wanted: z.string(),
  file: written,
  /** What stood there before, in case that the new one did not take its place any more. */
  before: written.nullable(),
});
export type Mirrored = z.infer<typeof mirrored>;

/** Paths within the folder, with “/”, to what the mirror wrote there. */
export type Known = ReadonlyMap<string, Mirrored>;

/** What is to be there: a sample, or a play list. */
export interface Wanted {
  sampleId: string | null;
  state: string;
  seconds: number | null;
  /** Its path, before it is numbered. */
  path: string;
}

/** A file as it is found in the folder. */
export type Found = ReadonlyMap<string, Written>;

export interface MirrorPlan {
  /** In the order in which they are done: what frees a name comes first. */
  remove: string[];
  write: (Wanted & { to: string })[];
  unchanged: number;
  /** Files of the mirror that somebody else has changed: they are left, and nothing is written over them. */
  foreign: string[];
  /** Of these nothing is wanted any more, but they are somebody else's by now. */
  forgotten: string[];
  /** Where each wanted one is in the end; what is foreign has no place. */
  paths: Map<Wanted, string>;
}

/** Some systems keep times only to two seconds. */
const SAME_TIME = 2_000;
/** Whether a file is still what was written. */
export const isSame = (a: Written | null | undefined, b: Written) =>
  !!a && a.size === b.size && Math.abs(a.mtimeMs - b.mtimeMs) <= SAME_TIME;

/** What a file is known by: its sample, or as a play list its name. */
const keyOf = (sampleId: string | null, wanted: string) => sampleId ?? `list ${wanted}`;

/** Where a name is numbered: before its ending. */
function numbered(path: string, n: number): string {
  const dot = path.lastIndexOf('.');
  const at = dot > path.lastIndexOf('/') + 1 ? dot : path.length;
  return `${path.slice(0, at)} (${n})${path.slice(at)}`;
}

/**
 * What has to be done so that a folder holds what is wanted. Files that the mirror did not write, or that somebody has changed since, are
 * never touched: a wanted file of their name gets a number. A file keeps its path as long as its wanted name does.
 */
export function mirrorPlan(wanted: readonly Wanted[], known: Known, found: Found): MirrorPlan {
  const plan: MirrorPlan = {
    remove: [],
    write: [],
    unchanged: 0,
    foreign: [],
    forgotten: [],
    paths: new Map(),
  };
  const own = new Map<string, [path: string, Mirrored]>();
  const changed = new Set<string>();
  const keys = new Set(wanted.map((one) => keyOf(one.sampleId, one.path)));
  for (const [path, one] of known) {
    const now = found.get(path);
    if (now && !isSame(one.file, now) && !isSame(one.before, now)) {
      const key = keyOf(one.sampleId, one.wanted);
      (keys.has(key) ? plan.foreign : plan.forgotten).push(path);
      changed.add(key);
    } else own.set(keyOf(one.sampleId, one.wanted), [path, one]);
  }
  // Names are the same in capitals: on some systems they are one file.
  const taken = new Set([...found.keys()].map((path) => path.toLowerCase()));
  const stay = new Map<Wanted, string>();
  const kept = new Set<string>();
  for (const one of wanted) {
    const there = own.get(keyOf(one.sampleId, one.path));
    if (there?.[1].wanted !== one.path) continue;
    stay.set(one, there[0]);
    kept.add(there[0]);
    taken.add(there[0].toLowerCase());
  }
  for (const [path] of own.values())
    if (!kept.has(path)) {
      if (found.has(path)) plan.remove.push(path);
      taken.delete(path.toLowerCase());
    }
  for (const one of wanted) {
    // What somebody made of it stays in its place until they move it away.
    if (changed.has(keyOf(one.sampleId, one.path))) continue;
    let to = stay.get(one);
    if (to === undefined) {
      to = one.path;
      for (let n = 2; taken.has(to.toLowerCase()); n++) to = numbered(one.path, n);
      taken.add(to.toLowerCase());
    }
    plan.paths.set(one, to);
    const now = found.get(to);
    const before = known.get(to);
    const isIt = before?.sampleId === one.sampleId && before.state === one.state;
    if (now && isIt && isSame(before.file, now)) plan.unchanged++;
    else plan.write.push({ ...one, to });
  }
  return plan;
}
