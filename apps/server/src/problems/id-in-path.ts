import { isId } from '@insel/core'
import type { ArgumentMetadata, PipeTransform } from '@nestjs/common'
import { malformed } from './problem.js'

/** An id in the path of a route. @throws ProblemError 400 when it is no UUID @example `@Param('estateId', IdInPath) estateId: string` */
export class IdInPath implements PipeTransform<string, string> {
  transform(value: string, { data = 'id' }: ArgumentMetadata): string {
    const id = value.toLowerCase()
    if (isId(id)) return id
    const message = `“${value.slice(0, 60)}” in the address is not an id (a UUID). Check the address, or open the estate and go on from there.`
    throw malformed(message, [{ path: data, code: 'invalid', message }])
  }
}
