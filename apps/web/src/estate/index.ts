export { mayRecord, RECORDED, whyReadOnly, type Basis, type Shown } from './basis'
export { EstateProvider, useEstate, type EstateView } from './estate-view'
export { say, useMessage, type Message } from './messages'
export type { Refusal } from './refusal'
