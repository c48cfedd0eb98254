import { binBlend, blendNow, changeBlend } from '@/server/blends';
import { documentRoute } from '../../documents';

/** One blend: as it is, changed, deleted, undone. */
export const { GET, POST, DELETE, PUT } = documentRoute('blend', {
  ...{ now: blendNow, change: changeBlend, bin: binBlend },
});
