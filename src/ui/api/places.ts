import { begunTask, filePeek, keptPlaces, place, placeFolder } from '@/contract/places';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { call, json, nothing } from './request';

export const fetchPlaces = (signal?: AbortSignal) => call(keptPlaces, '/api/places', { signal });

export const keepPlace = (path: string) => call(place, '/api/places', json('POST', { path }));

export const watchPlace = (placeId: number, watched: boolean) =>
  call(place, `/api/places/${placeId}`, json('PUT', { watched }));

export const forgetPlace = (placeId: number) => call(nothing, `/api/places/${placeId}`, { method: 'DELETE' });

export const fetchFolder = (placeId: number, path: string, signal?: AbortSignal) =>
  call(placeFolder, `/api/places/${placeId}?${new URLSearchParams({ path })}`, { signal });

export const peekInto = (placeId: number, path: string, signal?: AbortSignal) =>
  call(filePeek, `/api/places/${placeId}/peek?${new URLSearchParams({ path })}`, { signal });

export const takeFromPlace = (placeId: number, paths: readonly string[]) =>
  call(begunTask, `/api/places/${placeId}`, json('POST', { paths }));

const measurementAt = (placeId: number, path: string) =>
  `/api/places/${placeId}/measurement?${new URLSearchParams({ path })}`;

export const fetchMeasured = (placeId: number, path: string) =>
  call(measurement.nullable(), measurementAt(placeId, path));

export const keepMeasured = (placeId: number, path: string, found: Measurement) =>
  call(nothing, measurementAt(placeId, path), json('PUT', found));
