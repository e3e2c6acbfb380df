import { Module } from '@nestjs/common'
import { HeavyWorkModule } from '../heavy-work/heavy-work.module.js'
import { FindingsController } from './findings.controller.js'

/** What is wrong, for scripts. */
@Module({
  imports: [HeavyWorkModule],
  controllers: [FindingsController],
})
export class FindingsModule {}
