'use client';
import { useEffect, useRef } from 'react';
import type { Row } from './useCursor';
import type { Listing } from './usePagedList';

/** The row of each list that its cursor goes back to when it is opened again. */
const rowsOfLists = new Map<string, string>();

/** Where the cursor of a list will be when it is shown next. */
export const returnTo = (list: string, sampleId: string): void => void rowsOfLists.set(list, sampleId);

/** Puts the cursor of a list back on the row that was opened from it. */
export function useReturning<R extends Row>(name: string, { rows, cursor, rowAt, total }: Listing<R>): void {
  const isDone = useRef(false);
  useEffect(() => {
    if (isDone.current || total === 0) return;
    isDone.current = true;
    const sampleId = rowsOfLists.get(name);
    if (sampleId === undefined || cursor.row !== null) return;
    for (let index = 0; index < rows.length; index++)
      if (rowAt(index)?.sampleId === sampleId) return void cursor.moveTo(index);
  }, [name, rows, cursor, rowAt, total]);
}
