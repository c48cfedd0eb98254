import { z } from 'zod';
import { joinStems, stemSets } from '@/server/stemSets';
import { actorOf, jsonOf, respond } from '../respond';

/** All stem sets, or with `?sample=` the one of a sample. */
export const GET = respond(async (request) => {
  const sampleId = z.uuid().nullable().parse(new URL(request.url).searchParams.get('sample'));
  return Response.json(await stemSets(sampleId ? { sampleId } : null));
});

/** Joins samples as stems. */
export const POST = respond(async (request) =>
  Response.json({ setId: await joinStems(await jsonOf(request), actorOf(request)) }, { status: 201 }),
);
