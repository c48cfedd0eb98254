'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { adoptLeftChanges, tryAllAgain } from './queues';

/** Sends what pages that are gone left unsent, and what could not be sent once the machine is connected again. */
export function useLeftChanges(): void {
  const queries = useQueryClient();
  useEffect(() => {
    adoptLeftChanges(() => void queries.invalidateQueries());
    window.addEventListener('online', tryAllAgain);
    return () => window.removeEventListener('online', tryAllAgain);
  }, [queries]);
}
