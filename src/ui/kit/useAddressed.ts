'use client';
import { useSearchParams } from 'next/navigation';
import { sayInAddress } from './address';
import { useEffect, useState, type Dispatch, type SetStateAction } from 'react';

interface Said<V> {
  /** What an address says; null where it says nothing of it. */
  read: (params: URLSearchParams) => V | null;
  /** What is said of a value; names that are left out are those of the value from the start. */
  write: (value: V) => URLSearchParams;
  /** Names of parameters that belong to it: others are left alone. */
  names: readonly string[];
}

/**
 * A state that stands in the address, so that reloading, going back and sending the address bring it again. `first` is
 * what it is where the address says nothing.
 */
export function useAddressed<V>(
  first: () => V,
  { read, write, names }: Said<V>,
): [V, Dispatch<SetStateAction<V>>] {
  const params = useSearchParams();
  const [value, setValue] = useState<V>(() => read(new URLSearchParams(params)) ?? first());
  useEffect(() => sayInAddress(names, write(value)), [value, write, names]);
  return [value, setValue];
}

/** Parameters for what differs from `start`; lists have one for each of their values. */
export function paramsBeside<V extends Record<string, unknown>>(value: V, start: V): URLSearchParams {
  const params = new URLSearchParams();
  for (const [name, one] of Object.entries(value)) {
    if (JSON.stringify(one) === JSON.stringify(start[name]) || one === null) continue;
    for (const each of Array.isArray(one) ? one : [one]) params.append(name, String(each));
  }
  return params;
}
