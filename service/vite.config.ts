import { defineConfig } from 'vite';

/**
 * The service in few files, which Node loads in half the time of the 1,700 that it is made of: the service itself, its
 * worker threads, and the process of live decisions, which find each other beside them. They are as deep as `dist`, so
 * that paths to other workspaces are the same.
 */
export default defineConfig({
  build: {
    ssr: true,
    outDir: 'bundle',
    target: 'node20',
    minify: false,
    sourcemap: true,
    chunkSizeWarningLimit: 5000,
    rolldownOptions: {
      input: {
        index: 'dist/index.js',
        'gate-main': 'dist/http/gate/gate-main.js',
        'thread-main': 'dist/worker/thread-main.js',
      },
      // Drivers of other databases, which knex names and nobody has installed.
      external: [/^(better-sqlite3|mariadb|mysql2?|oracledb|pg-native|pg-query-stream|sqlite3|tedious)(\/|$)/],
      output: { entryFileNames: '[name].js', chunkFileNames: '[name].js' },
    },
  },
  ssr: {
    noExternal: true,
    external: ['snappy', '@jade-fence/contract/calls.json'],
    // As Node finds packages, so that none is there twice in two forms.
    resolve: { mainFields: ['main'] },
  },
});
