import { type Pack, pack, type PackOrder, packRow, type PackRow } from '@/contract/pack';
import { packContents } from '@/library/packs/writing';
import { renderAnswer } from '@/contract/renders';
import { call, json } from './request';
import { documentCalls } from './documents';

export const PACKS = documentCalls<Pack, PackOrder, PackRow>('pack', pack, packRow);

const at = (packId: string, rest: string) => `/api/packs/${packId}/${rest}`;

export const fetchContents = (packId: string, signal?: AbortSignal) =>
  call(packContents, at(packId, 'contents'), { signal });

/** Has it written as it is stored now. */
export const writePack = (packId: string) => call(renderAnswer, at(packId, 'writing'), json('POST', {}));

export const archiveUrl = (packId: string) => at(packId, 'archive');
