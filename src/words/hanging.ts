import type { Hanging } from '@/contract/bin';

/** What is said of it, behind another sentence; nothing where nothing hangs. `count`: of what went into the bin. */
export function hangingWords({ made, blends, packs }: Hanging, count: number): string {
  const them = count === 1 ? 'it' : 'them';
  const madeWords = made === 0 ? '' : ` ${made} made from ${them} ${made === 1 ? 'stays' : 'stay'}.`;
  const held = (many: number, what: string) =>
    many === 0
      ? ''
      : ` ${many === 1 ? `A ${what} holds` : `${many} ${what}s hold`} ${count === 1 ? 'it' : 'some of them'}.`;
  return madeWords + held(blends, 'blend') + held(packs, 'pack');
}
