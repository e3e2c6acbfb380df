import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { ChangeLog } from './change-log.js'
import { ChangesController } from './changes.controller.js'
import { Pipeline } from './pipeline.js'

/** The one way in which an estate changes, and the log of it. */
@Module({
  imports: [CacheModule],
  controllers: [ChangesController],
  providers: [Pipeline, ChangeLog],
  exports: [Pipeline],
})
export class ChangesModule {}
