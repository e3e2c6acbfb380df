import { Module } from '@nestjs/common'
import { ChangesModule } from '../changes/changes.module.js'
import { CacheModule } from '../cache/cache.module.js'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { EstateFileController } from './estate-file.controller.js'
import { GuestExchangeController } from './guests.controller.js'
import { ImportsController } from './imports.controller.js'
import { ExportsController } from './networks.controller.js'
import { ToolFilesController } from './tool-files.controller.js'

/** Files in and out: tables, zones, machine descriptions. */
@Module({
  imports: [CacheModule, ChangesModule, HeavyWorkModule],
  controllers: [EstateFileController, GuestExchangeController, ExportsController, ImportsController, ToolFilesController],
})
export class ExchangeModule {}
