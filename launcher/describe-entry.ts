import { writeDescriptions } from './describe.ts';

await writeDescriptions(process.argv[2] ?? '.');
