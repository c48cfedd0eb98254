import { openApi } from '@/server/openApi';
import { respond } from '../respond';

/** The addresses for scripts by the standard (OpenAPI). */
export const GET = respond(() => Promise.resolve(Response.json(openApi())));
