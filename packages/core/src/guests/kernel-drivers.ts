/** Kernels that have had paravirtual drivers for long; whether a release has them is known better by the catalogue. [P] */
export const hasKernelDrivers = (family: string) => /linux|bsd/i.test(family)
