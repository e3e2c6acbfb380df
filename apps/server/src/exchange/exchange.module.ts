import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { GuestExchangeController } from './guests.controller.js'
import { ExportsController } from './networks.controller.js'

/** Files in and out: tables, zones, machine descriptions. */
@Module({
  imports: [EstatesModule],
  controllers: [GuestExchangeController, ExportsController],
})
export class ExchangeModule {}
