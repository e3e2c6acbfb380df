import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { ReachabilityController } from './reachability.controller.js'

/** Who reaches whom. */
@Module({
  imports: [EstatesModule, HeavyWorkModule],
  controllers: [ReachabilityController],
})
export class ReachModule {}
