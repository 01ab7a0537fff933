export function pause(ms: number): Promise<void> {
  return new Promise((done) => setTimeout(done, ms));
}
