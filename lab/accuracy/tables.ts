/** Figures by group as the scorers give them; of songs as shares, of loops as percentages. */
export type Scores = Record<string, Record<string, number | null>>;

interface Target {
  kind: string;
  figure: string;
  /** Group and field in the scorer's output. */
  from: [group: string, field: string];
  wanted: number;
  /** To be at most, not at least, what is wanted. */
  atMost?: boolean;
  unit?: string;
  /** What the scorer's number is multiplied by. */
  scale?: number;
}

const song = (figure: string, group: string, field: string, wanted: number): Target => ({
  kind: 'songs',
  figure,
  from: [group, field],
  wanted,
  scale: 100,
});
const CLEAR = '(tempo unambiguous)';

export const SONG_TARGETS: Target[] = [
  song('Acc1 (unambiguous)', CLEAR, 'Acc1', 94),
  song('Acc2 (all)', 'ALL', 'Acc2', 98),
  song('beat F (unambiguous)', CLEAR, 'beatF', 92),
  song('beat F, any level', 'ALL', 'beatFany', 96),
  song('downbeat F', 'ALL', 'downF', 85),
  song('meter', 'ALL', 'meter', 92),
  song('grid within 20 ms', 'ALL', 'grid<20ms', 92),
  song('key exact', 'ALL', 'key', 93),
  song('key weighted', 'ALL', 'MIREX', 96),
];

const loop = (
  kind: string,
  group: string,
  figure: string,
  field: string,
  wanted: number,
  more: Partial<Target> = {},
): Target => ({
  kind,
  figure,
  from: [group, field],
  wanted,
  ...more,
});

export const LOOP_TARGETS: Target[] = [
  loop('loops', 'loop', 'Acc1', 'acc1', 90),
  loop('loops', 'loop', 'Acc2', 'acc2', 97),
  loop('loops', 'loop', 'within 0.1 %', 'tight2', 93),
  loop('loops', 'loop', 'bars', 'bars', 88),
  loop('loops', 'loop', 'meter', 'meter', 92),
  loop('loops', 'loop', 'phase of the one', 'phase', 92),
  loop('loops', 'loop', 'beat F', 'beatF', 93),
  loop('loops', 'loop', 'bounds within 20 ms', 'loop20', 88),
  loop('loops', 'loop', 'bounds within 5 ms', 'loop5', 65),
  loop('loops', 'loop', 'key exact', 'keyExact', 85),
  loop('loops', 'loop', 'key weighted', 'mirex', 92),
  loop('loops', 'loop', 'false keys on drums', 'falseKey', 3, { atMost: true }),
  loop('loops', 'loop', 'tuning, median error', 'tuneErr', 3, { atMost: true, unit: ' cents' }),
  loop('loops', 'loop', 'told from one-shot and song', 'kind', 96),
  loop('tonal excerpts', 'tonal', 'key exact', 'keyExact', 90),
  loop('tonal excerpts', 'tonal', 'key weighted', 'mirex', 94),
  loop('one-shots', 'oneshot', 'kind', 'kind', 95),
  loop('one-shots', 'oneshot', 'given a tempo by mistake', 'falseTempo', 5, { atMost: true }),
  loop('one-shots', 'oneshot', 'root note', 'root', 90),
  loop('lone voices', 'vocal', 'Acc2', 'acc2', 95),
  loop('lone voices', 'vocal', 'key exact', 'keyExact', 75),
];

/** A row per target: what is wanted, and what each of the given scores says of it. */
export function targetRows(targets: readonly Target[], runs: readonly Scores[]): string[][] {
  return targets.map(({ kind, figure, from: [group, field], wanted, atMost, unit = ' %', scale = 1 }) => [
    kind,
    figure,
    `${atMost ? '≤' : '≥'} ${wanted}${unit}`,
    ...runs.flatMap((scores) => {
      const value = scores[group]?.[field];
      if (value == null) return ['–', ''];
      const reached = value * scale;
      const met = atMost ? reached <= wanted : reached >= wanted;
      return [`${reached.toFixed(1)}${unit}`, met ? 'reached' : 'short'];
    }),
  ]);
}

type Table = (head: readonly string[], rows: readonly (readonly string[])[]) => string;

function groupTable(scores: Scores, fields: [string, string][], scale: number, table: Table): string {
  const rows = Object.entries(scores).map(([group, figures]) => [
    group.trim(),
    ...fields.map(([, field]) => {
      const value = figures[field];
      return value == null ? '–' : field === 'n' ? String(value) : (value * scale).toFixed(1);
    }),
  ]);
  return table(['', ...fields.map(([head]) => head)], rows);
}

export const songTable = (scores: Scores, table: Table) =>
  groupTable(
    scores,
    [
      ['Acc1', 'Acc1'],
      ['Acc2', 'Acc2'],
      ['beat F', 'beatF'],
      ['any level', 'beatFany'],
      ['downbeat F', 'downF'],
      ['meter', 'meter'],
      ['key', 'key'],
      ['weighted', 'MIREX'],
      ['grid < 20 ms', 'grid<20ms'],
    ],
    100,
    table,
  );

export const performanceTable = (scores: Scores, table: Table) =>
  groupTable(
    scores,
    [
      ['n', 'n'],
      ['Acc1', 'acc1'],
      ['Acc2', 'acc2'],
      ['mean tempo, median error', 'midiErrPct'],
      ['the same, any level', 'midiFoldErrPct'],
      ['bars', 'bars'],
      ['meter', 'meter'],
      ['one', 'phase'],
      ['beat F', 'beatF'],
      ['key', 'keyExact'],
      ['false key', 'falseKey'],
    ],
    1,
    table,
  );

export const loopTable = (scores: Scores, table: Table) =>
  groupTable(
    scores,
    [
      ['n', 'n'],
      ['Acc1', 'acc1'],
      ['Acc2', 'acc2'],
      ['< 0.1 %', 'tight2'],
      ['bars', 'bars'],
      ['meter', 'meter'],
      ['one', 'phase'],
      ['beat F', 'beatF'],
      ['key', 'keyExact'],
      ['weighted', 'mirex'],
      ['false key', 'falseKey'],
      ['kind', 'kind'],
      ['root', 'root'],
      ['< 20 ms', 'loop20'],
      ['< 5 ms', 'loop5'],
    ],
    1,
    table,
  );
