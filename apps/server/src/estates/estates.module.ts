import { Module } from '@nestjs/common'
import { EstateCache, KEPT_BYTES } from './estate-cache.js'
import { EstateFiles } from './estate-files.js'
import { EstatesController } from './estates.controller.js'
import { EstatesService } from './estates.service.js'

/** Estates: made, listed, read whole, and as they were last seen. */
@Module({
  controllers: [EstatesController],
  providers: [{ provide: EstateCache, useFactory: () => new EstateCache(KEPT_BYTES.server) }, EstateFiles, EstatesService],
  exports: [EstateCache],
})
export class EstatesModule {}
