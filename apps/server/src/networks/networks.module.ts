import { Module } from '@nestjs/common'
import { MacRegistryController } from './mac-registry.controller.js'

/** The registry of MAC prefixes. */
@Module({
  controllers: [MacRegistryController],
})
export class NetworksModule {}
