import { Module } from '@nestjs/common'
import { EstatesModule } from '../estates/estates.module.js'
import { HeavyWork } from './heavy-work.js'

/** What takes long, in separate threads. */
@Module({ imports: [EstatesModule], providers: [HeavyWork], exports: [HeavyWork] })
export class HeavyWorkModule {}
