import type { ServerInfo } from '@insel/contract'
import { Module, type DynamicModule } from '@nestjs/common'
import { DATABASE_URL } from '../database/database-url.js'
import { MayAsk } from '../outgoing/may-ask.js'
import { AWAITS_DEMO, EXPOSURE } from '../health/health.controller.js'
import { Names, type Exposure } from './names.js'

/** The server's settings about where it is and how it is reached. */
export interface Settings extends Exposure {
  readonly databaseUrl: string
  /** Whether somebody is about to load the demo, where there is no estate yet. */
  readonly awaitsDemo: boolean
  /** Where this server may ask others; see `MayAsk`. */
  readonly mayAsk: readonly string[] | undefined
}

/** Gives the settings to every feature. */
@Module({})
export class SettingsModule {
  static of({ databaseUrl, publicUrls, isOpenToNetwork, awaitsDemo, mayAsk }: Settings): DynamicModule {
    return {
      module: SettingsModule,
      global: true,
      providers: [
        { provide: DATABASE_URL, useValue: databaseUrl },
        { provide: Names, useValue: new Names({ publicUrls, isOpenToNetwork }) },
        { provide: MayAsk, useValue: new MayAsk({ mayAsk, isOpenToNetwork }) },
        { provide: EXPOSURE, useValue: { isOpenToNetwork } satisfies ServerInfo },
        { provide: AWAITS_DEMO, useValue: awaitsDemo },
      ],
      exports: [DATABASE_URL, Names, MayAsk, EXPOSURE, AWAITS_DEMO],
    }
  }
}
