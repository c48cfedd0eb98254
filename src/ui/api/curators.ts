'use client';
import { useQuery } from '@tanstack/react-query';
import { z } from 'zod';
import { curator, type Curator } from '@/contract/curators';
import { rememberCurator, useStoredCurator } from './myCurator';
import { call, json } from './request';

const fetchCurators = (signal?: AbortSignal) => call(z.array(curator), '/api/curators', { signal });

export const renameCurator = (curatorId: string, name: string) =>
  call(curator, `/api/curators/${curatorId}`, json('PUT', { name }));

/** Says who works in this browser: a curator known by that name, or a new one. */
export async function signInAs(name: string): Promise<Curator> {
  const me = await call(curator, '/api/curators', json('POST', { name }));
  rememberCurator(me.curatorId);
  return me;
}

/** All curators, and the one of this browser; null until they are fetched. */
export function useCurators(): { curators: readonly Curator[]; me: Curator | null } {
  const { data: curators = [] } = useQuery({
    queryKey: ['curators'],
    queryFn: ({ signal }) => fetchCurators(signal),
    staleTime: 60_000,
  });
  const stored = useStoredCurator();
  return { curators, me: curators.find(({ curatorId }) => curatorId === stored) ?? curators[0] ?? null };
}
