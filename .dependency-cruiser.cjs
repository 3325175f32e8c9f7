// The borders of the house: who may import whom.
const core = (name) => `^packages/core/src/${name}/`;
/** Folders of core in order: each may import those before it. */
const ORDER = [
  'checks',
  'kernels',
  'image',
  'frame',
  'instruments',
  'print',
  'plan',
  'sort',
  'align',
  'cells',
  'defocus',
  'provenance',
  'merge',
  'inspect',
  'trace',
  'repair',
];
const coreRules = ORDER.slice(0, -1).map((name, i) => ({
  name: `core-${name}-looks-back-only`,
  severity: 'error',
  from: { path: core(name), pathNot: '\\.test\\.ts$' },
  to: { path: ORDER.slice(i + 1).map(core) },
}));

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    ...coreRules,
    {
      name: 'contract-stands-alone',
      severity: 'error',
      from: { path: '^packages/contract' },
      to: { path: '^(packages/(core|scene)|apps)' },
    },
    {
      name: 'core-knows-no-one',
      severity: 'error',
      from: { path: '^packages/core' },
      to: { path: '^(packages/(contract|scene)|apps)' },
    },
    {
      name: 'core-has-no-node',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'evaluate-knows-no-application',
      severity: 'error',
      from: { path: '^packages/evaluate' },
      to: { path: '^apps' },
    },
    {
      name: 'scene-uses-core-image-only',
      severity: 'error',
      from: { path: '^packages/scene/src', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/core/src/(?!image/|checks/|kernels/)' },
    },
    {
      name: 'only-the-camera-knows-scenes',
      severity: 'error',
      from: { path: '^apps', pathNot: '(^apps/server/src/(services/camera/|cli/evaluate)|\\.test\\.ts$|/testing/)' },
      to: { path: '^packages/(scene|evaluate)' },
    },
    {
      name: 'worker-knows-no-storage',
      severity: 'error',
      from: { path: '^apps/server/src/jobs' },
      to: { path: '^apps/server/src/(storage|api|services|cli)' },
    },
    {
      name: 'codecs-know-core-only',
      severity: 'error',
      from: { path: '^apps/server/src/codecs' },
      to: { path: '^apps/server/src/(storage|api|services|cli|jobs|tiles)' },
    },
    {
      name: 'storage-is-below-services',
      severity: 'error',
      from: { path: '^apps/server/src/storage' },
      to: { path: '^apps/server/src/(api|services|cli|jobs|tiles)' },
    },
    {
      name: 'pipeline-is-below-services',
      severity: 'error',
      from: { path: '^apps/server/src/pipeline', pathNot: '\\.test\\.ts$' },
      to: { path: '^apps/server/src/(api|services|cli|storage)' },
    },
    {
      name: 'tiles-are-below-services',
      severity: 'error',
      from: { path: '^apps/server/src/tiles' },
      to: { path: '^apps/server/src/(services|api|cli|storage)' },
    },
    {
      name: 'services-are-below-api',
      severity: 'error',
      from: { path: '^apps/server/src/services', pathNot: '\\.test\\.ts$' },
      to: { path: '^apps/server/src/(api|cli)' },
    },
    { name: 'web-never-server', severity: 'error', from: { path: '^apps/web' }, to: { path: '^apps/server' } },
    {
      name: 'features-stay-apart',
      severity: 'error',
      from: { path: '^apps/web/src/features/([^/]+)/' },
      to: { path: '^apps/web/src/features/', pathNot: '^apps/web/src/features/$1/' },
    },
    {
      name: 'viewer-knows-no-feature',
      severity: 'error',
      from: { path: '^apps/web/src/viewer' },
      to: { path: '^apps/web/src/(features|app)' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(node_modules|/dist/|/build/|kernels/assembly)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.json'],
    },
  },
};
