import { OpenApiGeneratorV31, OpenAPIRegistry, type RouteConfig } from '@asteasolutions/zod-to-openapi';
import { z } from 'zod';
import { doubtSchema } from '../../core/routine/settings';
import {
  arrivalSchema,
  choiceSchema,
  countsSchema,
  cutStateSchema,
  deliverySchema,
  pieceSchema,
  refusalSchema,
  reportSchema,
  routineSchema,
  runEventSchema,
  runItemSchema,
  runSchema,
  shelfPieceSchema,
} from './answers';
import {
  deliverRequestSchema,
  itemActionSchema,
  pieceIdSchema,
  revisionRequestSchema,
  runActionSchema,
  runRequestSchema,
} from './requests';

const json = (schema: z.ZodType) => ({ 'application/json': { schema } });

const binary = (type: string) => ({ [type]: { schema: { type: 'string' as const, format: 'binary' } } });

const picture = { required: true, content: binary('application/octet-stream') };

const bodyOf = (schema: z.ZodType) => ({ body: { required: true, content: json(schema) } });

const answers = (status: number, description: string, schema: z.ZodType): RouteConfig['responses'] => ({
  [status]: { description, content: json(schema) },
  default: { description: 'Refused: what happened, and what is safe.', content: json(refusalSchema) },
});

const file = (description: string, type: string): RouteConfig['responses'] => ({
  200: { description, content: binary(type) },
  default: { description: 'Refused: what happened, and what is safe.', content: json(refusalSchema) },
});

const piece = z.object({ id: pieceIdSchema });
const run = z.object({ run: z.int() });
const wait = z.object({ wait: z.int().min(0).max(600).optional() });
const ORIGIN =
  'Whatever is changed by a request needs the header Origin with the address of the server, which pages of other sites cannot send.';

/** The routes of pieces, cuts, routines, runs and deliveries. */
function routes(): RouteConfig[] {
  return [
    {
      method: 'get',
      path: '/api/pieces',
      summary: 'The pieces on the Shelf, newest first',
      responses: answers(200, 'All pieces', z.strictObject({ pieces: z.array(shelfPieceSchema) })),
    },
    {
      method: 'post',
      path: '/api/pieces',
      summary: 'Takes a picture in: its bytes are the body',
      description:
        'A file of several pages, or a drawing without pixels, is answered with what has to be chosen first.',
      request: {
        query: z.object({
          name: z.string(),
          damaged: z.enum(['refuse', 'accept']).optional(),
          pages: z.string().optional(),
          dpi: z.number().optional(),
          width: z.int().optional(),
        }),
        body: picture,
      },
      responses: {
        ...answers(201, 'The pieces that it became', arrivalSchema),
        200: {
          description: 'The piece was there already, or something has to be chosen',
          content: json(z.union([arrivalSchema, choiceSchema])),
        },
      },
    },
    {
      method: 'get',
      path: '/api/pieces/{id}',
      summary: 'A piece and the cut in force',
      request: { params: piece },
      responses: answers(200, 'The piece', z.strictObject({ piece: pieceSchema, state: cutStateSchema })),
    },
    {
      method: 'post',
      path: '/api/pieces/{id}/revisions',
      summary: 'Saves a cut behind the revision in force',
      description: 'The cut is the document that docs/cut-format.md describes, of any version.',
      request: { params: piece, ...bodyOf(revisionRequestSchema) },
      responses: answers(201, 'The cut in force now', cutStateSchema),
    },
    {
      method: 'get',
      path: '/api/pieces/{id}/deliveries',
      summary: 'The deliveries of a piece, newest first',
      request: { params: piece },
      responses: answers(200, 'Its deliveries', z.strictObject({ deliveries: z.array(deliverySchema) })),
    },
    {
      method: 'post',
      path: '/api/pieces/{id}/deliveries',
      summary: 'Delivers one of the outputs of a cut; the file is read back before this is answered',
      request: { params: piece, ...bodyOf(deliverRequestSchema) },
      responses: answers(
        201,
        'The delivery',
        z.strictObject({ delivery: deliverySchema, sameAsShown: z.boolean().nullable() }),
      ),
    },
    {
      method: 'get',
      path: '/api/deliveries/{number}',
      summary: 'A delivered file',
      request: { params: z.object({ number: z.int() }) },
      responses: file('The file', 'application/octet-stream'),
    },
    {
      method: 'get',
      path: '/api/routines',
      summary: 'All routines',
      responses: answers(200, 'All routines', z.strictObject({ routines: z.array(routineSchema) })),
    },
    {
      method: 'put',
      path: '/api/routines',
      summary: 'Saves a routine under its name',
      request: bodyOf(routineSchema),
      responses: answers(200, 'All routines', z.strictObject({ routines: z.array(routineSchema) })),
    },
    {
      method: 'delete',
      path: '/api/routines',
      summary: 'Forgets a saved routine',
      request: bodyOf(z.strictObject({ name: z.string() })),
      responses: answers(200, 'All routines', z.strictObject({ routines: z.array(routineSchema) })),
    },
    {
      method: 'post',
      path: '/api/cutouts',
      summary: 'Takes a picture in, its bytes the body, and begins a run of it alone',
      request: {
        query: z.object({ name: z.string(), routine: z.string(), notSure: doubtSchema.optional() }),
        body: picture,
      },
      responses: answers(202, 'The run to ask about', z.strictObject({ run: runSchema, piece: pieceSchema })),
    },
    {
      method: 'get',
      path: '/api/runs',
      summary: 'All runs, newest first',
      responses: answers(200, 'All runs', z.strictObject({ runs: z.array(runSchema) })),
    },
    {
      method: 'post',
      path: '/api/runs',
      summary: 'Begins a run of a routine on pieces, or lays settings of one piece on others',
      request: bodyOf(runRequestSchema),
      responses: answers(202, 'The run to ask about', z.strictObject({ run: runSchema })),
    },
    {
      method: 'get',
      path: '/api/runs/{run}',
      summary: 'How a run stands',
      request: { params: run },
      responses: answers(200, 'The run', z.strictObject({ run: runSchema })),
    },
    {
      method: 'patch',
      path: '/api/runs/{run}',
      summary:
        'Pauses, resumes or cancels a run, tries again what failed, or takes back what it laid on its pieces',
      request: { params: run, ...bodyOf(runActionSchema) },
      responses: answers(
        200,
        'The run',
        z.strictObject({
          run: runSchema,
          undone: z.strictObject({ undone: z.int(), changed: z.array(z.string()) }).optional(),
        }),
      ),
    },
    {
      method: 'delete',
      path: '/api/runs/{run}',
      summary: 'Forgets a run that is over; pieces and deliveries stay',
      request: { params: run },
      responses: answers(200, 'It is forgotten', z.strictObject({ forgotten: z.literal(true) })),
    },
    {
      method: 'get',
      path: '/api/runs/{run}/items',
      summary: 'The pictures of a run, in order',
      request: { params: run },
      responses: answers(200, 'Its pictures', z.strictObject({ items: z.array(runItemSchema) })),
    },
    {
      method: 'post',
      path: '/api/runs/{run}/items/{number}',
      summary: 'Delivers a picture that was held back, or leaves it out',
      request: { params: z.object({ run: z.int(), number: z.int() }), ...bodyOf(itemActionSchema) },
      responses: answers(200, 'The picture', z.strictObject({ item: runItemSchema })),
    },
    {
      method: 'get',
      path: '/api/runs/{run}/events',
      summary: 'What happens in a run, as server-sent events; each holds such a document',
      request: { params: run },
      responses: {
        200: {
          description: 'Events, until nobody listens',
          content: { 'text/event-stream': { schema: runEventSchema } },
        },
        default: { description: 'Refused', content: json(refusalSchema) },
      },
    },
    {
      method: 'get',
      path: '/api/runs/{run}/files/{number}',
      summary: 'A file that a run delivered, by its place; waits for the run where it is told to',
      request: { params: z.object({ run: z.int(), number: z.int() }), query: wait },
      responses: {
        202: {
          description: 'It is still worked on; 406 to whoever accepts pictures only',
          content: json(z.strictObject({ run: z.int(), state: z.string(), counts: countsSchema })),
        },
        ...file('The file', 'application/octet-stream'),
      },
    },
    {
      method: 'get',
      path: '/api/runs/{run}/zip',
      summary: 'All files of a run with its report; waits for the run where it is told to',
      request: { params: run, query: wait },
      responses: file('The ZIP', 'application/zip'),
    },
    {
      method: 'get',
      path: '/api/runs/{run}/report',
      summary: 'What became of each picture, as JSON or CSV',
      request: { params: run, query: z.object({ as: z.enum(['json', 'csv']).optional() }) },
      responses: {
        ...answers(200, 'The report', reportSchema),
        200: { description: 'The report', content: { ...json(reportSchema), ...binary('text/csv') } },
      },
    },
  ];
}

/** The description of the interface (OpenAPI 3.1), made of the schemas that requests are checked by. */
export function openApiDocument(address: string): ReturnType<OpenApiGeneratorV31['generateDocument']> {
  const registry = new OpenAPIRegistry();
  for (const route of routes()) registry.registerPath(route);
  const document = new OpenApiGeneratorV31(registry.definitions).generateDocument({
    openapi: '3.1.0',
    info: {
      title: 'Kenosis',
      version: '1',
      description: `Pieces, cuts, routines, runs and deliveries. ${ORIGIN}`,
    },
    servers: [{ url: address }],
  });
  return withBarePatterns(document);
}

/** Patterns as JSON Schema has them (ECMA-262 with the flag u understood): the library leaves the flag behind them. */
function withBarePatterns<T>(value: T): T {
  if (Array.isArray(value)) return value.map(withBarePatterns) as T;
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => [
      key,
      key === 'pattern' && typeof one === 'string'
        ? one.replace(/\/[a-z]*$/, '')
        : withBarePatterns(one as unknown),
    ]),
  ) as T;
}
