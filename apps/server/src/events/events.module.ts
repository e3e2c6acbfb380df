import { Module } from '@nestjs/common'
import { EventsController } from './events.controller.js'
import { Notifications } from './notifications.js'

/** Sends the revisions of estates to pages. */
@Module({
  controllers: [EventsController],
  providers: [Notifications],
})
export class EventsModule {}
