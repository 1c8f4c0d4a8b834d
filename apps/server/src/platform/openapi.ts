// The OpenAPI document: routes and requests from what the controllers and the request classes say of themselves, replies
// from the declared types (`scripts/replies.mjs`), problems from the maps of refusals.
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { DiscoveryService, MetadataScanner } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { ApiProperty, DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';
import classTransformer from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { NO_CODE } from './problem.js';
import { knownRefusals } from './refusals.js';

type Json = Record<string, unknown>;
type Schemas = NonNullable<NonNullable<OpenAPIObject['components']>['schemas']>;
type Schema = Schemas[string];
type Operation = NonNullable<OpenAPIObject['paths'][string]['get']>;

const METHODS = ['get', 'post', 'put', 'patch', 'delete'] as const;

/** What the build wrote down of what routes answer; nothing where there was no build. */
function builtReplies(): { readonly replies: Schemas; readonly schemas: Schemas } {
  const file = join(fileURLToPath(import.meta.url), '../../../dist/replies.json');
  return existsSync(file)
    ? (JSON.parse(readFileSync(file, 'utf8')) as { replies: Schemas; schemas: Schemas })
    : { replies: {}, schemas: {} };
}

/** Tells the request classes what their validators say, so that the routes can be described by them. */
function describeRequests(app: NestExpressApplication, schemas: Schemas): void {
  const scanner = app.get(MetadataScanner);
  for (const { instance } of app.get(DiscoveryService).getControllers()) {
    const prototype = Object.getPrototypeOf(instance) as object;
    for (const name of scanner.getAllMethodNames(prototype)) {
      const types = (Reflect.getMetadata('design:paramtypes', prototype, name) ?? []) as unknown[];
      for (const type of types) if (isClass(type)) describeRequest(type, schemas);
    }
  }
}

type Class = new () => object;
const isClass = (type: unknown): type is Class => typeof type === 'function';

function describeRequest(type: Class, schemas: Schemas): void {
  const { properties = {}, required = [] } = (schemas[type.name] ?? {}) as {
    properties?: Json;
    required?: string[];
  };
  for (const [key, schema] of Object.entries(properties))
    ApiProperty({ ...(schema as object), required: required.includes(key) })(
      type.prototype as object,
      key,
    );
}

/** Made when it is asked for: by then every capability has named its refusals. */
const problemSchema = (): Schema => ({
  type: 'object',
  description: 'What is wrong and what to do (RFC 9457).',
  required: ['type', 'title', 'status', 'detail'],
  properties: {
    type: {
      type: 'string',
      description: `What it is, for programs; “${NO_CODE}” where the status says it all.`,
      enum: [NO_CODE, ...knownRefusals.keys()],
    },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string', description: 'For people.' },
    errors: {
      type: 'array',
      description: 'The fields of the request that it is about.',
      items: {
        type: 'object',
        required: ['path', 'message'],
        properties: { path: { type: 'string' }, message: { type: 'string' } },
      },
    },
    current: { description: 'In a conflict: what is there now.' },
  },
});

const problemReply = {
  description: 'Refused.',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

/** Adds to an operation what it answers, and who may ask. */
function complete(path: string, operation: Operation & Json, replies: Schemas): void {
  const schema = replies[operation.operationId ?? ''];
  const [[status, done] = []] = Object.entries(operation.responses);
  if (status && done && !('$ref' in done)) {
    done.description = done.description || 'Done.';
    if (schema) done.content = { 'application/json': { schema } };
  }
  // Keys are numbers with a brand, of which nothing is left when the program runs.
  const parameters = (operation.parameters ??= []);
  for (const [, name = ''] of path.matchAll(/\{(\w+)\}/g))
    if (!parameters.some((one) => 'name' in one && one.name === name))
      parameters.push({ name, in: 'path', required: true, schema: { type: 'integer' } });
  operation.responses['4XX'] = problemReply;
  operation.responses['503'] = problemReply;
  operation.security = operation['x-open'] ? [] : [{ session: [] }];
}

const operationsOf = (document: OpenAPIObject): [path: string, Operation & Json][] =>
  Object.entries(document.paths).flatMap(([path, item]) =>
    METHODS.flatMap((method): [string, Operation & Json][] => {
      const operation = item[method];
      return operation ? [[path, operation as Operation & Json]] : [];
    }),
  );

/** OpenAPI 3.0 for all routes of the application. Fails when a route does not say which people its answer speaks of: a count that nobody thought of tells what is hidden. */
export function openApi(app: NestExpressApplication): OpenAPIObject {
  const requests = validationMetadatasToSchemas({
    classTransformerMetadataStorage: classTransformer.defaultMetadataStorage,
    additionalConverters: { parsed: {} },
  }) as Schemas;
  describeRequests(app, requests);
  const document = SwaggerModule.createDocument(
    app,
    new DocumentBuilder()
      .setTitle('Palabra')
      .setVersion('1')
      .setDescription(
        'What the interface itself uses. Requests that change anything carry the header `x-requested-by: palabra`.',
      )
      .addCookieAuth('palabra_session', undefined, 'session')
      .build(),
    {
      operationIdFactory: (controller, method) =>
        `${controller.replace(/Controller$/, '')}.${method}`,
    },
  );
  const { replies, schemas } = builtReplies();
  const operations = operationsOf(document);
  for (const [path, operation] of operations) complete(path, operation, replies);
  const silent = operations.filter(([, operation]) => operation['x-tells'] === undefined);
  if (silent.length > 0)
    throw new Error(
      `These routes do not say with @Tells whom they speak of: ${silent.map(([, { operationId }]) => operationId).join(', ')}.`,
    );
  document.components = {
    ...document.components,
    schemas: { ...schemas, ...requests, Problem: problemSchema() },
  };
  return document;
}
