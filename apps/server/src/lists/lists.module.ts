import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { ListsController } from './lists.controller.js'

/** Lists of records, for scripts. */
@Module({
  imports: [CacheModule],
  controllers: [ListsController],
})
export class ListsModule {}
