import { Module } from '@nestjs/common'
import { OutgoingClient } from './outgoing-client.js'

/** The one way in which this server asks others. */
@Module({ providers: [OutgoingClient], exports: [OutgoingClient] })
export class OutgoingModule {}
