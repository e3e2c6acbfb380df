export { toolMachines } from './machines.js'
export { ansibleInventory, ethersLines, prometheusTargets, sshConfig } from './tool-files.js'
