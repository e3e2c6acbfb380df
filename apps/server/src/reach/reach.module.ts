import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { ReachabilityController } from './reachability.controller.js'

/** Who reaches whom. */
@Module({
  imports: [CacheModule, HeavyWorkModule],
  controllers: [ReachabilityController],
})
export class ReachModule {}
