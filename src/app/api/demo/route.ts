import { loadDemoLibrary } from '@/server/demoLibrary';
import { respond } from '../respond';

/** Makes the demo library in an empty library; its samples arrive one by one. */
export const POST = respond(async () => {
  await loadDemoLibrary();
  return Response.json({}, { status: 202 });
});
