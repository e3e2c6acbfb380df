import { Module } from '@nestjs/common'
import { EventsController } from './events.controller.js'
import { Notifications } from './notifications.js'

/** Tells pages where estates stand. */
@Module({
  controllers: [EventsController],
  providers: [Notifications],
})
export class EventsModule {}
