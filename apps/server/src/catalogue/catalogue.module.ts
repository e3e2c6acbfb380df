import { Module } from '@nestjs/common'
import { CatalogueController } from './catalogue.controller.js'
import { CatalogueService } from './catalogue.service.js'

/** The open dataset of operating systems. */
@Module({
  controllers: [CatalogueController],
  providers: [CatalogueService],
})
export class CatalogueModule {}
