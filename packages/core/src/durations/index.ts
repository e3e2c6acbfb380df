export { minutesOf, type ItemMinutes } from './item-minutes.js'
