import { z } from 'zod';
import { MOST_IN_PACK, pack, type Pack } from '../library/pack';
import { OrderRefusal, patchOf } from '../library/stepped';

export type PackPatch = Partial<Omit<Pack, 'sampleIds'>>;
const packPatch = patchOf<PackPatch>(pack.shape, ['sampleIds']);

const some = z.array(z.uuid()).min(1).max(MOST_IN_PACK);

/** Everything that can be done to a pack. Each says only what it changes, so that two who work on one do not undo each other. */
export const packOrder = z.discriminatedUnion('do', [
  /** What is in it already stays where it is. */
  z.object({ do: z.literal('put'), sampleIds: some }),
  z.object({ do: z.literal('take'), sampleIds: some }),
  /** It stands in another place, from 0; the others keep their order. */
  z.object({ do: z.literal('move'), sampleId: z.uuid(), to: z.int().min(0).max(MOST_IN_PACK) }),
  /** All of them stand in this order; those that it does not name stay behind them. */
  z.object({ do: z.literal('sort'), sampleIds: some }),
  z.object({ do: z.literal('set'), patch: packPatch }),
]);
export type PackOrder = z.infer<typeof packOrder>;

/** What a pack is after an order. Throws OrderRefusal. */
export function ordered(before: Pack, order: PackOrder): Pack {
  const { sampleIds } = before;
  const there = new Set(sampleIds);
  switch (order.do) {
    case 'put': {
      const next = [...new Set([...sampleIds, ...order.sampleIds])];
      if (next.length > MOST_IN_PACK)
        throw new OrderRefusal(
          `Nothing was put in: a pack holds ${MOST_IN_PACK} samples at most, and ${next.length} would be in it.`,
        );
      return { ...before, sampleIds: next };
    }
    case 'take': {
      const away = new Set(order.sampleIds);
      return { ...before, sampleIds: sampleIds.filter((id) => !away.has(id)) };
    }
    case 'move': {
      if (!there.has(order.sampleId))
        throw new OrderRefusal('This sample was taken out in the meantime; nothing was changed.');
      const others = sampleIds.filter((id) => id !== order.sampleId);
      return {
        ...before,
        sampleIds: [...others.slice(0, order.to), order.sampleId, ...others.slice(order.to)],
      };
    }
    case 'sort': {
      const named = [...new Set(order.sampleIds)].filter((id) => there.has(id));
      return { ...before, sampleIds: [...new Set([...named, ...sampleIds])] };
    }
    case 'set':
      return pack.parse({ ...before, ...order.patch });
  }
}
