import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { CollectionsController } from './collections.controller.js'
import { CollectionsService } from './collections.service.js'

/** What the collector script sends of a machine. */
@Module({
  imports: [CacheModule],
  controllers: [CollectionsController],
  providers: [CollectionsService],
})
export class CollectionsModule {}
