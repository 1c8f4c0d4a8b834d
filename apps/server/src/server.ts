// Puts the application together on an open database and listens.
import 'reflect-metadata';
import type { IncomingMessage, RequestListener, Server, ServerResponse } from 'node:http';
import { ValidationPipe, type LoggerService } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import express from 'express';
import { AppModule } from './app.module.js';
import {
  ReaderService,
  readerRoutes,
  ResponsesService,
  ReturnedImap,
  ReturnedSmtp,
  trackedAddresses,
} from './delivery/index.js';
import { findOffice } from './office/index.js';
import type { Config } from './platform/config.js';
import type { Database } from './platform/database.js';
import { Continuity } from './platform/continuity.js';
import { Jobs } from './platform/jobs.js';
import { Keys } from './platform/keys.js';
import { log } from './platform/log.js';
import { jsonBody } from './platform/body.js';
import { Hosts } from './platform/hosts.js';
import { openApi } from './platform/openapi.js';
import { validationProblem } from './platform/problem.js';
import { WhoAsks, type SignedRequest } from './platform/sign-in/guard.js';
import { systemClock, systemIds } from './platform/time.js';
import { Foreground } from './platform/stride.js';
import { Upkeep } from './platform/upkeep.js';
import { securityHeaders, serveInterface } from './platform/web.js';

const nestLog: LoggerService = {
  log: () => undefined,
  error: (message: unknown) => log.error(String(message)),
  warn: (message: unknown) => log.warn(String(message)),
};

export interface RunningServer {
  readonly port: number;
  /** Where returned mail is taken by SMTP, if anywhere. */
  readonly returnsPort: number | undefined;
  /** What the first visit asks for, as long as there was none. */
  readonly setUpCode: string | undefined;
  close(): Promise<void>;
}

/** Lets plain handlers have each request first; what none of them answers goes on to the framework. */
function answerFirst(
  server: Server,
  ...handlers: readonly ((request: IncomingMessage, response: ServerResponse) => boolean)[]
): void {
  const others = server.listeners('request') as RequestListener[];
  server.removeAllListeners('request');
  server.on('request', (request, response) => {
    if (handlers.some((handler) => handler(request, response))) return;
    for (const other of others) other(request, response);
  });
}

/** What the API says is about people: no cache keeps it, neither the browser's nor one in between. */
const keepNothing: express.RequestHandler = (_request, response, next) => {
  response.setHeader('Cache-Control', 'no-store');
  next();
};

const KEPT_OPEN_MS = 75_000;

export async function startServer(config: Config, database: Database): Promise<RunningServer> {
  const keys = await Keys.load(database.db, systemClock.now());
  const app = await NestFactory.create<NestExpressApplication>(
    AppModule.with({ config, database, keys, clock: systemClock, ids: systemIds }),
    { logger: nestLog, bodyParser: false },
  );
  const docs = openApi(app);
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.set('trust proxy', config.trustedProxies.length === 0 ? false : [...config.trustedProxies]);
  securityHeaders(app, config.publicUrl);
  app.use(readerRoutes(database, keys, app.get(ResponsesService), app.get(ReaderService)));
  const whoAsks = app.get(WhoAsks);
  app.use('/api', keepNothing, app.get(Foreground).watch, whoAsks.look);
  app.use(
    '/api/docs',
    whoAsks.needSession,
    (_request: express.Request, response: express.Response) => void response.json(docs),
  );
  app.use(
    '/api',
    jsonBody((request: SignedRequest) => request.user !== undefined),
  );
  serveInterface(app, config.webDir);
  app.useGlobalPipes(
    new ValidationPipe({
      whitelist: true,
      forbidNonWhitelisted: true,
      forbidUnknownValues: true,
      transform: true,
      stopAtFirstError: true,
      exceptionFactory: validationProblem,
    }),
  );
  answerFirst(
    app.getHttpServer(),
    new Hosts(config.publicUrl).refuse,
    trackedAddresses(keys, app.get(ResponsesService)),
  );
  // Before anything can be sent.
  await app.get(Continuity).start();
  // Longer than a client or proxy leaves a connection idle: who writes on one that is just being closed loses the request.
  app.getHttpServer().keepAliveTimeout = KEPT_OPEN_MS;
  await app.listen(config.port, config.host);
  await app.get(Jobs).start();
  app.get(Upkeep).start();
  const returnsPort = await app.get(ReturnedSmtp).start();
  app.get(ReturnedImap).start();
  const address = app.getHttpServer().address() as { port: number };
  return {
    port: address.port,
    returnsPort,
    setUpCode: (await findOffice(database.db)) ? undefined : keys.setUpCode(),
    close: async () => {
      app.getHttpServer().closeAllConnections();
      await app.close();
      await database.close();
    },
  };
}
