export { failoverReserve, guestCost, guestOverhead, machinesOn, memoryBudget, platformOf, type MemoryBudget } from './memory-budget.js'
export { storeBudget, storesOf, takenBytes, type StoreBudget } from './store-budget.js'
export { storeReach } from './store-reach.js'
export { coreLoad, logicalCpus, vcpuBudget, vcpuPerCore, type VcpuBudget } from './vcpu-budget.js'
