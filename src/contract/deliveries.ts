import { z } from 'zod';

/** The catalogue of a delivery service. */
export const deliveryCatalogue = z.object({
  sender: z.string(),
  packs: z.array(
    z.object({
      packId: z.string(),
      title: z.string(),
      about: z.string(),
      files: z.array(z.object({ path: z.string(), byteLength: z.number() })),
    }),
  ),
});
export type DeliveryCatalogue = z.infer<typeof deliveryCatalogue>;

/** How the simulated delivery service behaves. */
export const deliveryMood = z.object({
  /** Bytes a second; null: as fast as it can. */
  bytesPerSecond: z.number().min(1000).nullable(),
  /** Share of the requests that break off midway, 0 … 1. */
  breaksOff: z.number().min(0).max(1),
});
export type DeliveryMood = z.infer<typeof deliveryMood>;
