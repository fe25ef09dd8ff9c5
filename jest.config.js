export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.yaml'],
  transform: { '\\.yaml$': '<rootDir>/scripts/compiledlayout.cjs', '^.+\\.ts$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'es6' } }] },
  // A shared machine is at times four times as slow as at others; what hangs is seen all the same.
  testTimeout: 180_000,
  testSequencer: '<rootDir>/scripts/slowfirst.cjs',
  maxWorkers: 2,
};
