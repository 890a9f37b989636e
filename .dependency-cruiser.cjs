// Imports point one way: core <- draw <- web; core <- server; core, draw <- render. See docs/architecture.md.
const CORE = [
  'time',
  'math',
  'easing',
  'transform',
  'film',
  'kinds',
  'document',
  'curve',
  'mechanism',
  'formula',
  'evaluate',
  'shape',
  'edit',
  'recipe',
  'check',
  'format',
  'testing',
];
const inside = CORE.map((name, i) => ({
  name: `core-${name}-uses-earlier-only`,
  severity: 'error',
  from: { path: `^core/${name}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^core/(${CORE.slice(i + 1).join('|') || 'none'})/` },
})).filter((rule) => !rule.to.path.includes('(none)'));

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: { pathNot: '\\.test\\.ts$' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^core/', pathNot: '(\\.test\\.ts$|^core/testing/)' },
      to: { pathNot: '^(core/|node_modules/(zod|earcut)/)' },
    },
    {
      name: 'draw-uses-core-and-three',
      severity: 'error',
      from: { path: '^draw/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(core/|draw/|node_modules/(three|@types/three)/|three/addons/)' },
    },
    {
      name: 'scene-knows-no-frame',
      severity: 'error',
      from: { path: '^draw/scene/', pathNot: '\\.test\\.ts$' },
      to: { path: '^draw/frame/' },
    },
    {
      name: 'wire-knows-core-only',
      severity: 'error',
      from: { path: '^wire/' },
      to: { pathNot: '^(core/|wire/|node_modules/zod/)' },
    },
    {
      name: 'web-uses-core-and-draw',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(server|render|demo|cli|tools|bench|e2e)/' },
    },
    {
      name: 'open-shot-knows-no-page',
      severity: 'error',
      from: { path: '^web/src/shot/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(core/|wire/|web/src/shot/|web/src/shared/api|node_modules/(zustand|idb-keyval)/)' },
    },
    {
      name: 'shared-pieces-know-no-shot',
      severity: 'error',
      from: { path: '^web/src/ui/' },
      to: { path: '^(core|draw|web/src/(?!ui/))' },
    },
    {
      name: 'slices-know-no-room',
      severity: 'error',
      from: { path: '^web/src/workbench/state/' },
      to: { path: '^web/src/workbench/(?!state/|view/draft)' },
    },
    {
      name: 'fields-know-no-room',
      severity: 'error',
      from: { path: '^web/src/workbench/fields/' },
      to: { path: '^web/src/workbench/(?!fields/)' },
    },
    {
      name: 'timeline-stands-below-what-is-shown-on-it',
      severity: 'error',
      from: { path: '^web/src/workbench/timeline/', pathNot: '\\.test\\.ts$' },
      to: { path: '^web/src/workbench/(add|checks|commands|foot|formula|keys|links|parts|values|view)/' },
    },
    {
      name: 'foot-is-on-top',
      severity: 'error',
      from: { path: '^web/src/workbench/(?!foot/|workbench-page)' },
      to: { path: '^web/src/workbench/foot/' },
    },
    {
      name: 'actions-show-nothing',
      severity: 'error',
      from: { path: '^web/src/workbench/actions/' },
      to: { path: '\\.tsx$' },
    },
    {
      name: 'server-uses-core-and-demo',
      severity: 'error',
      from: { path: '^server/' },
      to: { path: '^(draw|web|render|cli|tools|bench|e2e)/' },
    },
    {
      name: 'render-uses-core-draw-store',
      severity: 'error',
      from: { path: '^render/' },
      to: { path: '^(web|demo|cli|tools|bench|e2e|server/(?!store/))' },
    },
    {
      name: 'demo-uses-core',
      severity: 'error',
      from: { path: '^demo/' },
      to: { path: '^(draw|web|server|render|cli|tools|bench|e2e)/' },
    },
    ...inside,
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'] },
  },
};
