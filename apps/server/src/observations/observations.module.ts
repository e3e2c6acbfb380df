import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { ObservationsController } from './observations.controller.js'
import { ObservationsService } from './observations.service.js'
import { ObserversService } from './observers.service.js'

/** What was seen of guests and stores over time. */
@Module({
  imports: [CacheModule],
  controllers: [ObservationsController],
  providers: [ObservationsService, ObserversService],
})
export class ObservationsModule {}
