import { Module } from '@nestjs/common'
import { GracefulStop } from './graceful-stop.js'
import { HealthController } from './health.controller.js'

/** Whether the server is there, ready, and how it ends. */
@Module({
  controllers: [HealthController],
  providers: [GracefulStop],
})
export class HealthModule {}
