export { reach, ReachError, type ReachAnswer, type ReachQuestion } from './answer.js'
export { ReachTable } from './classes.js'
export type { Reason, ReasonCode, SaidHop } from './explain.js'
export { OUTSIDE, SITE_GATEWAY, type Interface, type Topology } from './topology.js'
export { topologyOf } from './build-topology.js'
export { uplinkEnd } from './segment-ends.js'
export type { Protocol } from './walk.js'
export {
  askGroup,
  checkIntent,
  groupFields,
  reachMatrix,
  type MatrixQuestion,
  groupKey,
  groupName,
  groupOf,
  groupsOf,
  GroupTable,
  verdictOf,
  type Group,
  type GroupReach,
  type IntentCheck,
  type ReachVerdict,
} from './groups.js'
export { lookUp, ping, type LookUp, type PingAnswer } from './ping.js'
export { chooseAttachment, type AttachmentChoice, type Wish } from './choose.js'
export { readEnd, suggestEnds, writeEnd, type NamedEnd } from './ends.js'
