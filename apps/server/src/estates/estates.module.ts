import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { EstateFiles } from './estate-files.js'
import { EstatesController } from './estates.controller.js'
import { EstatesService } from './estates.service.js'

/** Estates: made, listed, read whole. */
@Module({
  imports: [CacheModule],
  controllers: [EstatesController],
  providers: [EstateFiles, EstatesService],
})
export class EstatesModule {}
