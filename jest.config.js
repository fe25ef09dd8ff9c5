export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/test'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.yaml'],
  transform: { '\\.yaml$': '<rootDir>/scripts/compiledlayout.cjs', '^.+\\.ts$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'es6' } }] },
  testTimeout: 60_000,
  testSequencer: '<rootDir>/scripts/slowfirst.cjs',
  maxWorkers: 2,
};
