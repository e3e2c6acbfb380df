export async function test(_?: string): Promise<number> { return 1 }
