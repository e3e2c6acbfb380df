import { CarryOutRequest, carryOutFields, propertiesOf, queries, type PlanRevertResponse, type ProjectionResponse } from '@insel/contract'
import { derivedId, doneItems, planFile, planMarkdown, type Estate, type Plan, type PlanFile } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Body, Controller, Get, Header, HttpCode, Param, Post, Query } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate, RecordedBy, type Recorder } from '../access/access.js'
import { AnswersJson } from '../changes/answer.js'
import { Pipeline } from '../changes/pipeline.js'
import { EstateCache } from '../cache/estate-cache.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import { notFound, ProblemError } from '../problems/problem.js'
import { IdInPath } from '../problems/id-in-path.js'
import { QueryOf, readQuery, type RawQuery } from '../problems/query.js'
import { readBody } from '../problems/read-body.js'

@ApiTags('plans')
@Controller('api/v1/estates/:estateId/plans/:planId')
export class PlansController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly pipeline: Pipeline,
    private readonly work: HeavyWork,
  ) {}

  @Get('projection')
  @InEstate('reads')
  @ApiOperation({ summary: 'What each item still to be done would do from the record as it is now, or why it cannot; `upTo` an item.' })
  @QueryOf(queries.projection)
  async projection(
    @Param('estateId', IdInPath) estateId: string,
    @Param('planId', IdInPath) planId: string,
    @Query() query: RawQuery,
  ): Promise<ProjectionResponse> {
    await this.#plan(estateId, planId)
    const { upTo } = readQuery(queries.projection, query)
    return this.work.do(estateId, 'projection', { planId, upTo })
  }

  @Get('sheet.md')
  @InEstate('reads')
  @Header('content-type', 'text/markdown; charset=utf-8')
  @ApiOperation({ summary: 'The plan as Markdown.' })
  async markdown(@Param('estateId', IdInPath) estateId: string, @Param('planId', IdInPath) planId: string): Promise<string> {
    const { estate, plan } = await this.#plan(estateId, planId)
    return planMarkdown(estate, plan)
  }

  @Get('file.json')
  @InEstate('reads')
  @ApiOperation({ summary: 'The plan as a file, to keep or to import: `POST imports` with the kind “plan”.' })
  async file(@Param('estateId', IdInPath) estateId: string, @Param('planId', IdInPath) planId: string): Promise<PlanFile> {
    const { estate, plan } = await this.#plan(estateId, planId)
    return planFile(estate, plan, new Date().toISOString())
  }

  @Post('items/:itemId/carry-out')
  @InEstate('changes')
  @HttpCode(200)
  @AnswersJson()
  @ApiOperation({ summary: 'Carries an item out, once: its commands are applied and it is done, or nothing happens.' })
  @ApiBody({ schema: { type: 'object', additionalProperties: false, properties: propertiesOf(carryOutFields) } })
  @QueryOf(queries.recording)
  async carryOut(
    @Param('estateId', IdInPath) estateId: string,
    @Param('planId', IdInPath) planId: string,
    @Param('itemId', IdInPath) itemId: string,
    @Body() body: unknown,
    @Query() query: RawQuery,
    @RecordedBy() by: Recorder,
  ): Promise<string> {
    await this.#item(estateId, planId, itemId)
    const { minutes = null, note = null, isMeant } = readBody(CarryOutRequest, body ?? {})
    const { text } = await this.pipeline.submit(estateId, {
      commands: [{ type: 'item.carryOut', itemId, minutes, note, isMeant: isMeant ?? false }],
      by,
      withoutFindings: !readQuery(queries.recording, query).findings,
    })
    return text
  }

  @Post('items/:itemId/revert')
  @InEstate('changes')
  @HttpCode(200)
  @AnswersJson()
  @ApiOperation({ summary: 'Reverts what an item did, as a new change; refused when later changes depend on it.' })
  @QueryOf(queries.recording)
  async revertItem(
    @Param('estateId', IdInPath) estateId: string,
    @Param('planId', IdInPath) planId: string,
    @Param('itemId', IdInPath) itemId: string,
    @Query() query: RawQuery,
    @RecordedBy() by: Recorder,
  ): Promise<string> {
    await this.#item(estateId, planId, itemId)
    return (await this.pipeline.revertItem(estateId, itemId, by, !readQuery(queries.recording, query).findings)).text
  }

  @Post('revert')
  @InEstate('changes')
  @HttpCode(200)
  @ApiOperation({
    summary: 'Reverts what a plan did, the last item first, a change for each; it stops where later changes depend on one.',
  })
  async revert(
    @Param('estateId', IdInPath) estateId: string,
    @Param('planId', IdInPath) planId: string,
    @RecordedBy() by: Recorder,
  ): Promise<PlanRevertResponse> {
    const { estate, revision } = await this.#plan(estateId, planId)
    const reverted: string[] = []
    let last = revision
    for (const { id } of doneItems(estate, planId)) {
      try {
        // Each of them is a change, so each has an id that follows from the request's.
        const each = { ...by, submissionId: by.submissionId && derivedId(by.submissionId, id) }
        last = (await this.pipeline.revertItem(estateId, id, each, true)).revision
        reverted.push(id)
      } catch (error) {
        if (!(error instanceof ProblemError) || error.problem.status !== 409) throw error
        return { revision: last, reverted, stopped: { itemId: id, message: error.problem.detail } }
      }
    }
    return { revision: last, reverted, stopped: null }
  }

  async #plan(estateId: string, planId: string): Promise<{ estate: Estate; plan: Plan; revision: number }> {
    const { estate, revision } = await this.cache.now(this.em.fork(), estateId)
    const plan = estate.find('plan', planId)
    if (!plan) throw notFound(`There is no plan with the id ${planId} in this estate.`)
    return { estate, plan, revision }
  }

  async #item(estateId: string, planId: string, itemId: string): Promise<void> {
    const { estate } = await this.#plan(estateId, planId)
    if (estate.find('item', itemId)?.planId !== planId) throw notFound(`There is no item with the id ${itemId} in this plan.`)
  }
}
