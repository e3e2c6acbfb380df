import { Module } from '@nestjs/common'
import { CacheModule } from '../cache/cache.module.js'
import { HeavyWork } from './heavy-work.js'

/** What takes long, in separate threads. */
@Module({ imports: [CacheModule], providers: [HeavyWork], exports: [HeavyWork] })
export class HeavyWorkModule {}
