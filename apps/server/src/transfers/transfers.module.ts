import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { OutgoingModule } from '../outgoing/outgoing.module.js'
import { TransfersController } from './transfers.controller.js'
import { TransfersService } from './transfers.service.js'

/** What is seen of moves while they are copied. */
@Module({ imports: [CacheModule, HeavyWorkModule, OutgoingModule], controllers: [TransfersController], providers: [TransfersService] })
export class TransfersModule {}
