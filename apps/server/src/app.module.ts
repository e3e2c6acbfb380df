import type { ServerInfo } from '@insel/contract'
import { MikroOrmModule } from '@mikro-orm/nestjs'
import { PostgreSqlDriver } from '@mikro-orm/postgresql'
import { Module, type DynamicModule } from '@nestjs/common'
import { APP_FILTER } from '@nestjs/core'
import { ServeStaticModule } from '@nestjs/serve-static'
import { LoggerModule } from 'nestjs-pino'
import { existsSync } from 'node:fs'
import type { ServerResponse } from 'node:http'
import { join } from 'node:path'
import { ChangeLog } from './changes/change-log.js'
import { ChangesController } from './changes/changes.controller.js'
import { Pipeline } from './changes/pipeline.js'
import { CollectionsController } from './collections/collections.controller.js'
import { CollectionsService } from './collections/collections.service.js'
import { CatalogueController } from './catalogue/catalogue.controller.js'
import { CatalogueService } from './catalogue/catalogue.service.js'
import { ormConfig } from './database/orm-config.js'
import { EstateCache } from './estates/estate-cache.js'
import { EstatesController } from './estates/estates.controller.js'
import { EstatesService } from './estates/estates.service.js'
import { EventsController } from './events/events.controller.js'
import { DATABASE_URL, Notifications } from './events/notifications.js'
import { FindingsController } from './findings/findings.controller.js'
import { GracefulStop } from './health/graceful-stop.js'
import { GuestExchangeController } from './exchange/guests.controller.js'
import { AWAITS_DEMO, EXPOSURE, HealthController } from './health/health.controller.js'
import { ListsController } from './lists/lists.controller.js'
import { ExportsController } from './exchange/networks.controller.js'
import { MacRegistryController } from './networks/mac-registry.controller.js'
import { Names } from './requests/names.js'
import { loggedUrl } from './requests/request-log.js'
import { ReachabilityController } from './reach/reachability.controller.js'
import { ObservationsController } from './observations/observations.controller.js'
import { ObservationsService } from './observations/observations.service.js'
import { ObserversService } from './observations/observers.service.js'
import { RedfishController } from './redfish/redfish.controller.js'
import { ProblemFilter } from './problems/problem.filter.js'

/** What the server is told from outside. */
export interface ServerOptions {
  readonly databaseUrl: string
  /** The built web app, or undefined to serve the API alone. */
  readonly webRoot?: string | undefined
  readonly logLevel: string
  /** Names it goes by beside this machine’s own. */
  readonly publicUrls?: readonly string[]
  /** Whether it listens beyond this machine. */
  readonly isOpenToNetwork?: boolean
  /** Whether somebody is about to load the demo, where there is no estate yet. */
  readonly awaitsDemo?: boolean
}

@Module({})
export class AppModule {
  static with({
    databaseUrl,
    webRoot,
    logLevel,
    publicUrls = [],
    isOpenToNetwork = false,
    awaitsDemo = false,
  }: ServerOptions): DynamicModule {
    const page = webRoot && existsSync(join(webRoot, 'index.html'))
    return {
      module: AppModule,
      imports: [
        LoggerModule.forRoot({
          pinoHttp: {
            level: logLevel,
            autoLogging: { ignore: (request) => !request.url?.startsWith('/api/') },
            redact: ['req.headers', 'res.headers', 'req.query'],
            serializers: { req: (request: { url: string }) => ({ ...request, url: loggedUrl(request.url) }) },
          },
        }),
        MikroOrmModule.forRoot({
          ...ormConfig(databaseUrl),
          driver: PostgreSqlDriver,
          registerRequestContext: false,
          connect: false,
        } as never),
        ...(page
          ? [
              ServeStaticModule.forRoot({
                rootPath: webRoot,
                exclude: ['/api/{*path}', '/healthz', '/readyz'],
                // Files under assets/ carry a hash in their names; the page itself is asked for each time.
                serveStaticOptions: {
                  setHeaders: (response: ServerResponse, path: string) =>
                    void response.setHeader(
                      'Cache-Control',
                      path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
                    ),
                },
              }),
            ]
          : []),
      ],
      controllers: [
        EstatesController,
        ChangesController,
        FindingsController,
        EventsController,
        HealthController,
        CollectionsController,
        RedfishController,
        ReachabilityController,
        ExportsController,
        CatalogueController,
        GuestExchangeController,
        ObservationsController,
        MacRegistryController,
        ListsController,
      ],
      providers: [
        GracefulStop,
        EstateCache,
        EstatesService,
        ChangeLog,
        CollectionsService,
        CatalogueService,
        ObservationsService,
        ObserversService,
        Pipeline,
        Notifications,
        { provide: DATABASE_URL, useValue: databaseUrl },
        { provide: Names, useValue: new Names({ publicUrls, isOpenToNetwork }) },
        { provide: EXPOSURE, useValue: { isOpenToNetwork } satisfies ServerInfo },
        { provide: AWAITS_DEMO, useValue: awaitsDemo },
        { provide: APP_FILTER, useClass: ProblemFilter },
      ],
    }
  }
}
