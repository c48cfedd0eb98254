import type { SampleSummary } from '@/contract/entry';

let list: readonly { sampleId: string; name: string }[] = [];

/** The order in which samples were last listed: previous and next on the Bench walk along it. */
export function rememberWorkingList(rows: readonly SampleSummary[]) {
  list = rows.map(({ sampleId, name }) => ({ sampleId, name }));
}

export function neighbours(sampleId: string) {
  const at = list.findIndex((one) => one.sampleId === sampleId);
  return {
    previous: at > 0 ? list[at - 1] : null,
    next: at >= 0 && at + 1 < list.length ? list[at + 1] : null,
    at,
    count: list.length,
  };
}
