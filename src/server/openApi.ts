import { z } from 'zod';
import { ADDRESSES, type Address } from '@/contract/addresses';

type Json = Record<string, unknown>;

/** A schema of ours as JSON Schema; objects may get further fields one day. */
function schemaOf(schema: z.ZodType): Json {
  const json = z.toJSONSchema(schema, {
    unrepresentable: 'any',
    override: ({ jsonSchema }) => {
      if (jsonSchema.additionalProperties === false) delete jsonSchema.additionalProperties;
    },
  }) as Json;
  delete json.$schema;
  return json;
}

/** Of what may be left out, only what may be said. */
function parameterSchema(schema: z.ZodType): Json {
  const json = schemaOf(schema);
  const choices = json.anyOf as Json[] | undefined;
  const said = choices?.filter(({ type }) => type !== 'null');
  const { default: usual } = json;
  const kept = said?.length === 1 ? said[0] : json;
  return usual === null || usual === undefined
    ? { ...kept, default: undefined }
    : { ...kept, default: usual };
}

const content = ({ answer, mediaType = 'application/json' }: Address): Json =>
  answer instanceof z.ZodType
    ? { [mediaType]: { schema: schemaOf(answer) } }
    : Object.fromEntries(answer.map((type) => [type, {}]));

const operation = (address: Address): Json => {
  const { path, about, query } = address;
  return {
    summary: about,
    operationId: path
      .replace('/api/', '')
      .replaceAll(/[/{}]+/g, ' ')
      .trim()
      .replaceAll(' ', '-'),
    parameters: [
      ...(path.includes('{sample}')
        ? [{ name: 'sample', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } }]
        : []),
      ...Object.entries(query?.shape ?? {}).map(([name, schema]) => ({
        ...{ name, in: 'query', required: false },
        schema: parameterSchema(schema as z.ZodType),
      })),
    ],
    responses: {
      200: { description: about, content: content(address) },
      default: {
        description: 'What was wrong, in a sentence.',
        content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
      },
    },
  };
};

/** The addresses for scripts by the standard (OpenAPI 3.1), out of the schemas that answers and queries are read with. */
export function openApi(): Json {
  const document = {
    openapi: '3.1.0',
    info: {
      title: 'Grento',
      version: '1',
      description: 'Reading a library of samples: tempo, first downbeat, bar length and key of each.',
    },
    security: [{}, { token: [] }],
    paths: Object.fromEntries(ADDRESSES.map((address) => [address.path, { get: operation(address) }])),
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: {
        Error: { type: 'object', properties: { error: { type: 'string' } }, required: ['error'] },
      },
    },
  };
  // What is undefined is no JSON.
  return JSON.parse(JSON.stringify(document)) as Json;
}
