import { defineConfig } from 'vitest/config';

/** What a busy machine may take until something is so. */
const PATIENT = { poll: { timeout: 15_000 } };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          setupFiles: ['tests/property-runs.ts'],
          include: ['src/**/*.test.{ts,tsx}', 'standins/**/*.test.ts', 'launcher/**/*.test.ts'],
          // Property tests on a busy machine.
          testTimeout: process.env['YARE_LONG'] === 'yes' ? 1_200_000 : 60_000,
        },
      },
      {
        test: {
          name: 'integration',
          expect: PATIENT,
          setupFiles: ['tests/property-runs.ts'],
          include: ['tests/integration/**/*.test.ts'],
          globalSetup: ['tests/database.ts'],
          env: { LOG_LEVEL: 'silent' },
          testTimeout: 180_000,
          hookTimeout: 180_000,
          poolOptions: { forks: { singleFork: true } },
        },
      },
      {
        test: {
          name: 'attack',
          expect: PATIENT,
          include: ['tests/attack/**/*.test.ts'],
          globalSetup: ['tests/database.ts'],
          env: { LOG_LEVEL: 'silent' },
          testTimeout: 180_000,
          hookTimeout: 180_000,
          poolOptions: { forks: { singleFork: true } },
        },
      },
      {
        test: {
          name: 'long',
          include: ['tests/long/**/*.test.ts'],
          testTimeout: 600_000,
          hookTimeout: 600_000,
          poolOptions: { forks: { singleFork: true } },
        },
      },
      {
        test: {
          name: 'end-to-end',
          expect: PATIENT,
          include: ['tests/end-to-end/**/*.test.ts'],
          testTimeout: 600_000,
          hookTimeout: 600_000,
          poolOptions: { forks: { singleFork: true } },
        },
      },
    ],
  },
});
