import { binBlend, blendNow, changeBlend } from '@/server/blends';
import { steppedRoute } from '../../stepped';

/** One blend: as it is, changed, thrown away, taken back. */
export const { GET, POST, DELETE, PUT } = steppedRoute('blend', {
  ...{ now: blendNow, change: changeBlend, bin: binBlend },
});
