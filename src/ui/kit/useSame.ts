'use client';
import { useState } from 'react';

/** A list that stays the same one as long as the same things are in it. */
export function useSame<Value>(list: readonly Value[]): readonly Value[] {
  const [kept, setKept] = useState(list);
  if (kept.length === list.length && kept.every((one, i) => one === list[i])) return kept;
  setKept(list);
  return list;
}
