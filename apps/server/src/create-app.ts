import 'reflect-metadata'
import { schemas } from '@insel/contract'
import { MikroORM } from '@mikro-orm/postgresql'
import { NestFactory } from '@nestjs/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger'
import compression from 'compression'
import type { Request, RequestHandler, Response } from 'express'
import helmet from 'helmet'
import { constants } from 'node:zlib'
import { Logger } from 'nestjs-pino'
import { pinoHttp } from 'pino-http'
import { describing } from './access/access-guard.js'
import { AppModule, type ServerOptions } from './app.module.js'
import { storyClock } from './changes/story-clock.js'
import { migrate } from './database/migrate.js'
import { ormConfig } from './database/orm-config.js'
import { readBodies } from './requests/bodies.js'
import { guard } from './requests/guard.js'
import { Names } from './requests/names.js'
import { requestLog } from './requests/request-log.js'

/**
 * An answer of so many bytes leaves in one flight (ten segments of 1460 bytes) and is there no earlier when it is smaller.
 *
 * @source RFC 6928, section 2
 */
const FIRST_FLIGHT_BYTES = 14_600

/** Packs answers. What is read by many, or again, is packed well; what one change is answered with is packed quickly. */
function pack(): RequestHandler {
  const settings = {
    // Events must leave at once, not when a compressed block is full.
    filter: (request: Request, response: Response) => !request.path.endsWith('/events') && compression.filter(request, response),
    threshold: FIRST_FLIGHT_BYTES,
  }
  const [well, quickly] = [compression(settings), compression({ ...settings, level: constants.Z_BEST_SPEED })]
  return (request, response, next) => (request.method === 'GET' ? well : quickly)(request, response, next)
}

/** Steps of the schema may take longer than any request. @throws NewerSchemaError */
async function bringUp(databaseUrl: string): Promise<void> {
  const orm = await MikroORM.init(ormConfig(databaseUrl, { isLongWork: true }))
  try {
    await migrate(orm, databaseUrl)
  } finally {
    await orm.close(true)
  }
}

/**
 * The server, with its schema brought up to date, not yet listening.
 *
 * @throws NewerSchemaError when a newer version wrote the database
 */
export async function createApp(options: ServerOptions): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(options), {
    bodyParser: false,
    bufferLogs: true,
    abortOnError: false,
  })
  app.useLogger(app.get(Logger))
  await bringUp(options.databaseUrl)
  app.use(options.log ? pinoHttp(requestLog(options.logLevel), options.log) : pinoHttp(requestLog(options.logLevel)))
  app.use(guard(app.get(Names)))
  app.use(helmet({ contentSecurityPolicy: { directives: { 'upgrade-insecure-requests': null } }, strictTransportSecurity: false }))
  app.use(pack())
  if (options.takesStory) app.use(storyClock())
  readBodies(app)
  app.enableShutdownHooks()

  const document = SwaggerModule.createDocument(
    app,
    new DocumentBuilder().setTitle('Insel').setDescription('Plans and records hypervisor hosts and their guests.').setVersion('1').build(),
  )
  document.components = { ...document.components, schemas: { ...document.components?.schemas, ...(schemas() as Record<string, never>) } }
  const docs = { ui: 'api/docs', json: 'api/docs-json', yaml: 'api/docs-yaml' }
  app.use(
    Object.values(docs).map((path) => `/${path}`),
    describing,
  )
  SwaggerModule.setup(docs.ui, app, document, { jsonDocumentUrl: docs.json, yamlDocumentUrl: docs.yaml })
  return app
}
