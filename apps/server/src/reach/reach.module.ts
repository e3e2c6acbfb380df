import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { ReachabilityController } from './reachability.controller.js'

/** Who reaches whom. */
@Module({
  imports: [EstatesModule],
  controllers: [ReachabilityController],
})
export class ReachModule {}
