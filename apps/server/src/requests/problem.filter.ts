import { Catch, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common'
import type { Request, Response } from 'express'
import { DatabaseRoom } from '../database/database-room.js'
import { problemOf } from './problem-of.js'
import { sendProblem } from '../problems/send-problem.js'

/** Makes whatever went wrong in a route a problem document. An unforeseen fault is logged whole and answered without its details. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  constructor(private readonly room: DatabaseRoom) {}

  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp()
    const response = http.getResponse<Response>()
    const request = http.getRequest<Request>()
    const problem = problemOf(error, request)
    if (problem.code === 'database-full') this.room.refused(problem.detail)
    if (problem.status >= 500) request.log.error({ err: error }, problem.detail)
    if (response.headersSent) {
      response.end()
      return
    }
    sendProblem(response, problem)
  }
}
