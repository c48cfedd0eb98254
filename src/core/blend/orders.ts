import { z } from 'zod';
import { OrderRefusal, patchOf } from '../library/stepped';
import { blend, lane, MOST_LANES, type Blend, type Lane } from '../library/blend';

/** What a blend's tempo, key and bars become. */
const takenValue = z.object({
  tempoBpm: blend.shape.tempoBpm,
  key: blend.shape.key,
  meter: blend.shape.meter.unwrap(),
  movement: blend.shape.movement,
});
export type Taken = z.infer<typeof takenValue>;

export type LanePatch = Partial<Omit<Lane, 'laneId' | 'sampleId'>>;
const lanePatch = patchOf<LanePatch>(lane.shape, ['laneId', 'sampleId']);

export type BlendPatch = Partial<Omit<Blend, 'lanes'>>;
const blendPatch = patchOf<BlendPatch>(blend.shape, ['lanes']);

/** Everything that can be done to a blend. Each says only what it changes, so that two who work on one do not undo each other. */
export const blendOrder = z.discriminatedUnion('do', [
  /** `takes`: what the blend becomes with it; null: it stays as it is. `leads`: it is the lead from now on. */
  z.object({ do: z.literal('put'), lane, leads: z.boolean(), takes: takenValue.nullable() }),
  z.object({ do: z.literal('take'), laneId: z.string() }),
  z.object({ do: z.literal('lead'), laneId: z.string().nullable(), takes: takenValue.nullable() }),
  z.object({
    do: z.literal('lanes'),
    patches: z
      .array(z.object({ laneId: z.string(), patch: lanePatch }))
      .min(1)
      .max(MOST_LANES),
  }),
  /** It stands in another place; the others keep their order. */
  z.object({ do: z.literal('move'), laneId: z.string(), to: z.int().min(0).max(MOST_LANES) }),
  z.object({ do: z.literal('set'), patch: blendPatch }),
]);
export type BlendOrder = z.infer<typeof blendOrder>;

/** What a blend is after an order. Throws OrderRefusal. */
export function ordered(before: Blend, order: BlendOrder): Blend {
  const lanes = before.lanes;
  const there = (laneId: string) => {
    const found = lanes.find((one) => one.laneId === laneId);
    if (!found) throw new OrderRefusal('This lane was taken out in the meantime; nothing was changed.');
    return found;
  };
  switch (order.do) {
    case 'put': {
      if (lanes.length >= MOST_LANES)
        throw new OrderRefusal(
          `“${order.lane.name}” was not put in: ${MOST_LANES} lanes are the most that play together.`,
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
        throw new OrderRefusal('A round ends after it begins.');
      return { ...next, changes: changes.sort((a, b) => a.bar - b.bar) };
    }
  }
}
