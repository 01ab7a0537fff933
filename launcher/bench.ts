export async function bench(_name: string | undefined): Promise<number> { return 0; }
