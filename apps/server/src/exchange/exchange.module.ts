import { Module } from '@nestjs/common'
import { ChangesModule } from '../changes/changes.module.js'
import { EstatesModule } from '../estates/estates.module.js'
import { GuestExchangeController } from './guests.controller.js'
import { ImportsController } from './imports.controller.js'
import { ExportsController } from './networks.controller.js'

/** Files in and out: tables, zones, machine descriptions. */
@Module({
  imports: [EstatesModule, ChangesModule],
  controllers: [GuestExchangeController, ExportsController, ImportsController],
})
export class ExchangeModule {}
