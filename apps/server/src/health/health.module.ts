import { Global, Module } from '@nestjs/common'
import { DatabaseRoom } from '../database/database-room.js'
import { GracefulStop } from './graceful-stop.js'
import { HealthController } from './health.controller.js'

/** Whether the server is there, ready, and how it ends. */
@Global()
@Module({
  controllers: [HealthController],
  providers: [DatabaseRoom, GracefulStop],
  exports: [DatabaseRoom],
})
export class HealthModule {}
