/** An import may only point down: cli, report, jobs, sites, pochette and protocol, core. The stand-in may import only protocol. */
const layer = (name, from, mayUse) => ({
  name, severity: 'error', comment: `${from} may import only ${mayUse.join(', ')} and itself`,
  from: { path: `^src/${from}/` }, to: { path: '^src/', pathNot: [...mayUse, from].map((one) => `^src/${one}/`) },
});
module.exports = {
  forbidden: [
    layer('core-is-the-bottom', 'core', []),
    layer('protocol-layer', 'protocol', ['core']),
    layer('pochette-layer', 'pochette', ['core']),
    layer('sites-layer', 'sites', ['protocol', 'core']),
    layer('jobs-layer', 'jobs', ['sites', 'pochette', 'protocol', 'core']),
    layer('standin-layer', 'standin', ['protocol']),
    layer('report-layer', 'report', ['jobs', 'sites', 'pochette', 'protocol', 'core']),
    layer('cli-layer', 'cli', ['report', 'jobs', 'sites', 'pochette', 'protocol', 'core']),
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    { name: 'core-does-no-io', severity: 'error', comment: 'the core computes and nothing else', from: { path: '^src/core/' }, to: { dependencyTypes: ['core'], pathNot: '^(node:)?(crypto|buffer)$' } },
    { name: 'no-development-packages', severity: 'error', from: { path: '^src/' }, to: { dependencyTypes: ['npm-dev'] } },
  ],
  options: { doNotFollow: { path: 'node_modules' }, tsPreCompilationDeps: true, tsConfig: { fileName: 'tsconfig.json' }, enhancedResolveOptions: { extensions: ['.ts', '.js'] } },
};
