import { shippedPlatforms } from '@insel/core'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** The platforms that ship with Insel and are not recorded here yet, each to be taken with one press. */
export function ShippedPlatforms() {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const names = new Set(estate.all('platform').map(({ name }) => name.toLowerCase()))
  const open = shippedPlatforms.filter(({ name }) => !names.has(name.toLowerCase()))
  if (open.length === 0) return null
  return (
    <>
      {open.map((platform) => (
        <Button key={platform.name} onClick={() => void record([{ type: 'platform.add', record: platform }])}>
          Use profile {platform.name}
        </Button>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}
