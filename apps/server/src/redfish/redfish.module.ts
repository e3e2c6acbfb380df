import { Module } from '@nestjs/common'
import { RedfishController } from './redfish.controller.js'

/** Reads a management controller. */
@Module({
  controllers: [RedfishController],
})
export class RedfishModule {}
