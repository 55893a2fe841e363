import next from 'eslint-config-next/core-web-vitals';
import tseslint from 'typescript-eslint';

/** Rooms and what each may import besides itself; see the layout in README.md. */
const ARROWS = {
  core: ['codec', 'engine', 'storage', 'server', 'bench', 'ui', 'app', 'cli'],
  codec: ['engine', 'storage', 'server', 'bench', 'ui', 'app', 'cli'],
  engine: ['storage', 'server', 'bench', 'ui', 'app', 'cli'],
  storage: ['codec', 'engine', 'server', 'bench', 'ui', 'app', 'cli'],
  server: ['bench', 'ui', 'app', 'cli'],
  bench: ['codec', 'storage', 'server', 'ui', 'app', 'cli'],
  ui: ['codec', 'storage', 'server', 'app', 'cli'],
  cli: ['engine/browser', 'storage', 'bench', 'ui', 'app'],
};

const closed = (rooms) =>
  rooms.map((room) => ({ group: [`**/${room}/**`, `**/${room}`], message: 'Imports point one way.' }));

const CORE_PACKAGES = {
  group: ['*', '!.*', '!zod', '!..', '!../**', '!./**'],
  message: 'The core imports nothing but itself, and Zod for the shapes of what is kept.',
};

/** What engines may round differently; `numeric/exact.ts` has what the core needs. */
const INEXACT = ['sin', 'cos', 'tan', 'atan', 'atan2', 'hypot', 'exp', 'pow', 'log', 'cbrt'].map(
  (property) => ({
    object: 'Math',
    property,
    message: 'Engines round it differently; use numeric/exact.ts.',
  }),
);

/** Powers of two are exact; others engines may round differently, as they may Math.pow. */
const INEXACT_POWER = {
  selector:
    ':matches(BinaryExpression, AssignmentExpression)[operator=/^\\*\\*=?$/]:not([left.value=2]):not([left.value=4])',
  message: 'Engines may round it differently: multiply.',
};

/** Where components are, and hooks. */
const COMPONENTS = ['src/{app,ui}/**/*.{ts,tsx}'];

export default tseslint.config(
  {
    ignores: [
      'node_modules/',
      '.next/',
      'dist/',
      'data/',
      'next-env.d.ts',
      'scripts/',
      'training/*.mjs',
      '*.mjs',
    ],
  },
  // What is said of components has nothing to look for elsewhere.
  ...next.map((config) => (config.ignores && !config.rules ? config : { ...config, files: COMPONENTS })),
  ...tseslint.configs.recommendedTypeChecked,
  {
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/only-throw-error': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/unbound-method': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      eqeqeq: 'error',
      'no-console': 'off',
    },
  },
  ...Object.entries(ARROWS).map(([room, rooms]) => ({
    files: [`src/${room}/**/*.{ts,tsx}`],
    rules: { 'no-restricted-imports': ['error', { patterns: closed(rooms) }] },
  })),
  {
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/**/*.test.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: [...closed(ARROWS.core), CORE_PACKAGES] }] },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: [
      'src/core/cut/**',
      'src/core/stages/*/*settings.ts',
      'src/core/{routine,proof,watermark}/settings.ts',
      'src/core/stages/deliver/set-document.ts',
      'src/core/decision/kept-decisions.ts',
      'src/core/stages/{shapes,stage}.ts',
      'src/core/**/*.test.ts',
    ],
    rules: {
      'no-restricted-imports': [
        'error',
        { paths: ['zod'], patterns: [...closed(ARROWS.core), CORE_PACKAGES] },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/color/ciede2000.ts', 'src/core/**/*.test.ts'],
    rules: {
      'no-restricted-properties': ['error', ...INEXACT],
      'no-restricted-syntax': ['error', INEXACT_POWER],
    },
  },
);
