import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { ListsController } from './lists.controller.js'

/** Lists of records, for scripts. */
@Module({
  imports: [EstatesModule],
  controllers: [ListsController],
})
export class ListsModule {}
