import { binPack, changePack, packNow } from '@/server/packs';
import { documentRoute } from '../../documents';

/** One pack: as it is, changed, deleted, undone. */
export const { GET, POST, DELETE, PUT } = documentRoute('pack', {
  ...{ now: packNow, change: changePack, bin: binPack },
});
