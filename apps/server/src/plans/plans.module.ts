import { Module } from '@nestjs/common'
import { ChangesModule } from '../changes/changes.module.js'
import { CacheModule } from '../cache/cache.module.js'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { PlansController } from './plans.controller.js'

/** Plans: what they come to, carrying them out item by item, taking that back. */
@Module({ imports: [ChangesModule, CacheModule, HeavyWorkModule], controllers: [PlansController] })
export class PlansModule {}
