import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { FindingsController } from './findings.controller.js'

/** What is wrong, for scripts. */
@Module({
  imports: [EstatesModule],
  controllers: [FindingsController],
})
export class FindingsModule {}
