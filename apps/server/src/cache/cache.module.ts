import { Module } from '@nestjs/common'
import { EstateCache, KEPT_BYTES } from './estate-cache.js'

/** Estates as they were last seen, kept as long as there is room. */
@Module({
  providers: [{ provide: EstateCache, useFactory: () => new EstateCache(KEPT_BYTES.server) }],
  exports: [EstateCache],
})
export class CacheModule {}
