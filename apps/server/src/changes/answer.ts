import { Header } from '@nestjs/common'

/** What a change is answered with: the text of a `CommandsResponse`, made while the database is at work where that can be. */
export interface Answer {
  readonly revision: number
  readonly text: string
}

/** A route whose answer is text that is JSON already. */
export const AnswersJson = (): MethodDecorator => Header('Content-Type', 'application/json; charset=utf-8')
