export async function bench(_?: string): Promise<number> { return 1 }
