import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { CollectionsController } from './collections.controller.js'
import { CollectionsService } from './collections.service.js'

/** What the collector script sends of a machine. */
@Module({
  imports: [EstatesModule],
  controllers: [CollectionsController],
  providers: [CollectionsService],
})
export class CollectionsModule {}
