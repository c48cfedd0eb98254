import { deliveryCatalogue, deliveryMood, type DeliveryMood } from '@/contract/deliveries';
import { begunTask } from '@/contract/places';
import { call, json } from './request';

export const fetchDeliveries = (signal?: AbortSignal) =>
  call(deliveryCatalogue, '/api/deliveries', { signal });

export const fetchPack = (packId: string, paths: readonly string[] | null) =>
  call(begunTask, '/api/deliveries', json('POST', { packId, paths }));

export const fetchMood = (signal?: AbortSignal) => call(deliveryMood, '/api/deliveries/mood', { signal });

export const setMood = (mood: DeliveryMood) => call(deliveryMood, '/api/deliveries/mood', json('PUT', mood));
