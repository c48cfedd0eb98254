import { plural } from './plural';
import type { Hanging } from '@/contract/bin';

/** What is said of it, behind another sentence; nothing where nothing hangs. `count`: of what went into the bin. */
export function hangingWords({ made, blends, packs }: Hanging, count: number): string {
  const them = plural(count, 'it', 'them');
  const madeWords = made === 0 ? '' : ` ${made} rendered from ${them} ${plural(made, 'stays', 'stay')}.`;
  const held = (many: number, what: string) =>
    many === 0
      ? ''
      : ` ${many === 1 ? `A ${what} holds` : `${many} ${what}s hold`} ${plural(count, 'it', 'some of them')}.`;
  return madeWords + held(blends, 'blend') + held(packs, 'pack');
}
