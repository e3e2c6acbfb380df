export { generateEstate, generateRecords, type EstateSize } from './generate-estate.js'
export { idOf, ids, smallEstate, smallEstateCommands, testContext, TODAY } from './small-estate.js'
export { SCHEMA } from './kept-schema.js'
export { addedUp, notAddingUp } from './worked-figures.js'
