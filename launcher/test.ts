export async function test(_kinds: readonly string[]): Promise<number> { return 0; }
