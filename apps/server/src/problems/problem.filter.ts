import { PROBLEM_TYPE } from '@insel/contract'
import { Catch, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common'
import type { Request, Response } from 'express'
import { problemOf } from './problem-of.js'

/** Makes whatever went wrong in a route a problem document. An unforeseen fault is logged whole and answered without its details. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp()
    const response = http.getResponse<Response>()
    const request = http.getRequest<Request>()
    const problem = problemOf(error, request)
    if (problem.status >= 500) request.log.error({ err: error }, problem.detail)
    if (response.headersSent) {
      response.end()
      return
    }
    response.status(problem.status).type(PROBLEM_TYPE).send(JSON.stringify(problem))
  }
}
