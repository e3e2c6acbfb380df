import { Module } from '@nestjs/common'
import { OutgoingModule } from '../outgoing/outgoing.module.js'
import { RedfishController } from './redfish.controller.js'

/** Reads a management controller. */
@Module({ imports: [OutgoingModule], controllers: [RedfishController] })
export class RedfishModule {}
