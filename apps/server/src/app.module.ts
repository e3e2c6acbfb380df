import { MikroOrmModule } from '@mikro-orm/nestjs'
import { PostgreSqlDriver } from '@mikro-orm/postgresql'
import { Module, type DynamicModule } from '@nestjs/common'
import { APP_FILTER, APP_GUARD } from '@nestjs/core'
import { ServeStaticModule } from '@nestjs/serve-static'
import { LoggerModule } from 'nestjs-pino'
import { existsSync } from 'node:fs'
import type { ServerResponse } from 'node:http'
import { join } from 'node:path'
import { AccessGuard } from './access/access-guard.js'
import { CatalogueModule } from './catalogue/catalogue.module.js'
import { ChangesModule } from './changes/changes.module.js'
import { CollectionsModule } from './found/collections.module.js'
import { EstatesModule } from './estates/estates.module.js'
import { EventsModule } from './events/events.module.js'
import { ExchangeModule } from './exchange/exchange.module.js'
import { FindingsModule } from './findings/findings.module.js'
import { HealthModule } from './health/health.module.js'
import { ListsModule } from './lists/lists.module.js'
import { NetworksModule } from './networks/networks.module.js'
import { ObservationsModule } from './observations/observations.module.js'
import { PlansModule } from './plans/plans.module.js'
import { ReachModule } from './reach/reach.module.js'
import { RedfishModule } from './found/redfish.module.js'
import { TransfersModule } from './transfers/transfers.module.js'
import { ormConfig } from './database/orm-config.js'
import type { LogFile } from './requests/log-file.js'
import { SettingsModule } from './requests/settings.module.js'
import { ProblemFilter } from './requests/problem.filter.js'

/** One module a feature. The lists answer every path that no other feature has, so they come last. */
const features = [
  CatalogueModule,
  ChangesModule,
  CollectionsModule,
  EstatesModule,
  EventsModule,
  ExchangeModule,
  FindingsModule,
  HealthModule,
  NetworksModule,
  ObservationsModule,
  PlansModule,
  ReachModule,
  RedfishModule,
  TransfersModule,
  ListsModule,
]

/** The settings the server is given from outside. */
export interface ServerOptions {
  readonly databaseUrl: string
  /** The built web app, or undefined to serve the API alone. */
  readonly webRoot?: string | undefined
  readonly logLevel: string
  /** Where it logs to; its own output where left out. */
  readonly log?: LogFile | undefined
  /** Names it goes by beside this machine’s own. */
  readonly publicUrls?: readonly string[]
  /** Whether it listens beyond this machine. */
  readonly isOpenToNetwork?: boolean
  /** Whether somebody is about to load the demo, where there is no estate yet. */
  readonly awaitsDemo?: boolean
  /** Whether requests may say when what they record was done: for a server of its own that loads the demo. */
  readonly takesStory?: boolean
  /** Where it may ask others: prefixes, and the words `loopback` and `private`; the usual places where left out. */
  readonly mayAsk?: readonly string[] | undefined
}

@Module({})
export class AppModule {
  static with({
    databaseUrl,
    webRoot,
    logLevel,
    log,
    publicUrls = [],
    isOpenToNetwork = false,
    awaitsDemo = false,
    mayAsk,
  }: ServerOptions): DynamicModule {
    const page = webRoot && existsSync(join(webRoot, 'index.html'))
    return {
      module: AppModule,
      imports: [
        // Requests are logged before Nest sees them, since some are refused before: see `createApp`.
        LoggerModule.forRoot({ pinoHttp: { level: logLevel, ...(log ? { stream: log } : {}) }, forRoutes: [] }),
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
        SettingsModule.of({ databaseUrl, publicUrls, isOpenToNetwork, awaitsDemo, mayAsk }),
        ...features,
      ],
      providers: [
        { provide: APP_FILTER, useClass: ProblemFilter },
        { provide: APP_GUARD, useClass: AccessGuard },
      ],
    }
  }
}
