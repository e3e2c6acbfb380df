export async function screenshots(_?: string): Promise<number> { return 1 }
