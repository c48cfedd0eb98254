import { OrderRefusal } from '../orderRefusal';
import { blend, lane, MOST_LANES, type Blend, type BlendOrder } from '@/contract/blend';

/** What a blend is after an order. Throws OrderRefusal. */
export function ordered(before: Blend, order: BlendOrder): Blend {
  const lanes = before.lanes;
  const there = (laneId: string) => {
    const found = lanes.find((one) => one.laneId === laneId);
    if (!found) throw new OrderRefusal('This lane has been removed meanwhile; nothing was changed.');
    return found;
  };
  switch (order.do) {
    case 'put': {
      if (lanes.length >= MOST_LANES)
        throw new OrderRefusal(
          `“${order.lane.name}” was not added: a blend holds ${MOST_LANES} lanes at most.`,
        );
      if (lanes.some(({ laneId }) => laneId === order.lane.laneId)) return before;
      return {
        ...before,
        ...order.takes,
        lanes: [...lanes, order.lane],
        lead: order.leads ? order.lane.laneId : before.lead,
      };
    }
    case 'take': {
      there(order.laneId);
      return {
        ...before,
        lanes: lanes
          .filter(({ laneId }) => laneId !== order.laneId)
          .map((one) => (one.feel?.of === order.laneId ? { ...one, feel: null } : one)),
        lead: before.lead === order.laneId ? null : before.lead,
        movement: before.lead === order.laneId ? null : before.movement,
      };
    }
    case 'lead': {
      if (order.laneId !== null) there(order.laneId);
      return { ...before, movement: null, ...order.takes, lead: order.laneId };
    }
    case 'lanes': {
      const patches = new Map(order.patches.map(({ laneId, patch }) => [laneId, patch]));
      for (const laneId of patches.keys()) there(laneId);
      return { ...before, lanes: lanes.map((one) => lane.parse({ ...one, ...patches.get(one.laneId) })) };
    }
    case 'move': {
      const one = there(order.laneId);
      const others = lanes.filter((other) => other !== one);
      return { ...before, lanes: [...others.slice(0, order.to), one, ...others.slice(order.to)] };
    }
    case 'set': {
      const next = blend.parse({ ...before, ...order.patch });
      const changes = [...new Map(next.changes.map((one) => [one.bar, one])).values()];
      if (next.round && next.round.to < next.round.from)
        throw new OrderRefusal('A loop must end after it begins.');
      return { ...next, changes: changes.sort((a, b) => a.bar - b.bar) };
    }
  }
}
