export { mayRecord, RECORDED, whyReadOnly, type Basis } from './basis'
export { EstateProvider, useEstate, type EstateView } from './estate-view'
export { say, useMessage } from './messages'
export { refusedBy, type Refusal } from './refusal'
