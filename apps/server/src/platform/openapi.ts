// The OpenAPI document, made from what the routes and the request classes say of themselves.
import { RequestMethod } from '@nestjs/common';
import { METHOD_METADATA, PATH_METADATA, ROUTE_ARGS_METADATA } from '@nestjs/common/constants.js';
import { ModulesContainer } from '@nestjs/core';
import { RouteParamtypes } from '@nestjs/common/enums/route-paramtypes.enum.js';
import type { NestExpressApplication } from '@nestjs/platform-express';
import classTransformer from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { isOpen, mayDo, tellsOf } from './sign-in/guard.js';

type Json = Record<string, unknown>;
type Class = new () => object;

interface Argument {
  readonly index: number;
  readonly data?: unknown;
}

/** Types of what a handler's arguments are, e.g. a request class. */
const typesOf = (controller: object, name: string): readonly unknown[] =>
  (Reflect.getMetadata('design:paramtypes', controller, name) as readonly unknown[] | undefined) ??
  [];

const schemaName = (type: unknown): string | undefined =>
  typeof type === 'function' && ![String, Number, Object, Boolean, Array].includes(type as never)
    ? type.name
    : undefined;

function join(...parts: readonly (string | undefined)[]): string {
  return `/${parts
    .flatMap((part) => (part ?? '').split('/'))
    .filter((part) => part !== '')
    .join('/')}`;
}

const problem = {
  description: 'What is wrong and what to do (RFC 9457).',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

function operation(controller: Class, name: string, handler: object, schemas: Json): Json {
  const args = Object.entries(
    (Reflect.getMetadata(ROUTE_ARGS_METADATA, controller, name) as
      Record<string, Argument> | undefined) ?? {},
  ).map(([key, argument]) => ({ kind: Number(key.split(':')[0]), ...argument }));
  const types = typesOf(controller.prototype as object, name);
  const parameters: Json[] = [];
  let body: string | undefined;
  for (const { kind, index, data } of args) {
    const type = types[index];
    if ((kind as RouteParamtypes) === RouteParamtypes.PARAM)
      parameters.push({
        name: String(data),
        in: 'path',
        required: true,
        schema: type === Number ? { type: 'integer' } : { type: 'string' },
      });
    if ((kind as RouteParamtypes) === RouteParamtypes.BODY) body = schemaName(type);
    if ((kind as RouteParamtypes) === RouteParamtypes.QUERY) {
      const properties =
        ((schemas[schemaName(type) ?? ''] as Json | undefined)?.['properties'] as
          Record<string, Json> | undefined) ?? {};
      if (typeof data === 'string')
        parameters.push({
          name: data,
          in: 'query',
          schema: type === Number ? { type: 'integer' } : { type: 'string' },
        });
      for (const [own, schema] of Object.entries(properties))
        parameters.push({ name: own, in: 'query', schema });
    }
  }
  const deed = mayDo(handler, controller);
  return {
    operationId: `${controller.name.replace(/Controller$/, '')}.${name}`,
    tags: [controller.name.replace(/Controller$/, '')],
    ...(deed ? { description: `Only for who may: ${deed}.` } : {}),
    security: isOpen(handler, controller) ? [] : [{ session: [] }],
    'x-tells': tellsOf(handler),
    parameters,
    ...(body && schemas[body]
      ? {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: { $ref: `#/components/schemas/${body}` } } },
          },
        }
      : {}),
    responses: { '2XX': { description: 'Done.' }, '4XX': problem, '503': problem },
  };
}

interface Route {
  readonly controller: Class;
  readonly name: string;
  readonly handler: object;
  readonly method: RequestMethod;
  readonly path: string;
}

/** All routes of the application. */
function* routesOf(app: NestExpressApplication): Generator<Route> {
  for (const { controllers } of app.get(ModulesContainer).values()) {
    for (const { metatype } of controllers.values()) {
      if (typeof metatype !== 'function') continue;
      const controller = metatype as Class;
      const prototype = controller.prototype as Record<string, unknown>;
      for (const name of Object.getOwnPropertyNames(prototype)) {
        const handler = prototype[name];
        const method =
          typeof handler === 'function'
            ? (Reflect.getMetadata(METHOD_METADATA, handler) as RequestMethod | undefined)
            : undefined;
        if (method === undefined || typeof handler !== 'function') continue;
        const path = join(
          Reflect.getMetadata(PATH_METADATA, controller) as string | undefined,
          Reflect.getMetadata(PATH_METADATA, handler) as string | undefined,
        ).replace(/:(\w+)/g, '{$1}');
        yield { controller, name, handler, method, path };
      }
    }
  }
}

/** Fails when a route does not say which people its answer speaks of: a count that nobody thought of tells what is hidden. */
export function needWhom(app: NestExpressApplication): void {
  const silent = [...routesOf(app)].filter(({ handler }) => tellsOf(handler) === undefined);
  if (silent.length > 0)
    throw new Error(
      `These routes do not say with @Tells whom they speak of: ${silent.map(({ controller, name }) => `${controller.name}.${name}`).join(', ')}.`,
    );
}

/** OpenAPI 3.0 for all routes of the application. */
export function openApi(app: NestExpressApplication): Json {
  const schemas = {
    ...validationMetadatasToSchemas({
      classTransformerMetadataStorage: classTransformer.defaultMetadataStorage,
      additionalConverters: { parsed: {} },
    }),
    Problem: {
      type: 'object',
      required: ['type', 'title', 'status', 'detail'],
      properties: {
        type: { type: 'string' },
        title: { type: 'string' },
        status: { type: 'integer' },
        detail: { type: 'string' },
        errors: { type: 'array', items: { type: 'object' } },
      },
    },
  } as Json;
  const paths: Record<string, Json> = {};
  for (const { controller, name, handler, method, path } of routesOf(app)) {
    paths[path] = {
      ...paths[path],
      [RequestMethod[method].toLowerCase()]: operation(controller, name, handler, schemas),
    };
  }
  return {
    openapi: '3.0.3',
    info: {
      title: 'Palabra',
      version: '1',
      description:
        'What the interface itself uses. Requests that change anything carry the header `x-requested-by: palabra`.',
    },
    components: {
      schemas,
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'palabra_session' } },
    },
    paths,
  };
}
