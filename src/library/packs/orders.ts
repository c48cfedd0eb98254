import { OrderRefusal } from '../orderRefusal';
import { MOST_IN_PACK, pack, type Pack, type PackOrder } from '@/contract/pack';

/** What a pack is after an order. Throws OrderRefusal. */
export function ordered(before: Pack, order: PackOrder): Pack {
  const { sampleIds } = before;
  const there = new Set(sampleIds);
  switch (order.do) {
    case 'put': {
      const next = [...new Set([...sampleIds, ...order.sampleIds])];
      if (next.length > MOST_IN_PACK)
        throw new OrderRefusal(
          `Nothing was added: a pack holds ${MOST_IN_PACK} samples at most; this would make ${next.length} .`,
        );
      return { ...before, sampleIds: next };
    }
    case 'take': {
      const away = new Set(order.sampleIds);
      return { ...before, sampleIds: sampleIds.filter((id) => !away.has(id)) };
    }
    case 'move': {
      if (!there.has(order.sampleId))
        throw new OrderRefusal('This sample has been removed meanwhile; nothing was changed.');
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
