import { binPack, changePack, packNow } from '@/server/packs';
import { steppedRoute } from '../../stepped';

/** One pack: as it is, changed, thrown away, taken back. */
export const { GET, POST, DELETE, PUT } = steppedRoute('pack', {
  ...{ now: packNow, change: changePack, bin: binPack },
});
