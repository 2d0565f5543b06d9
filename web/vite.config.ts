import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';
import { compression } from 'vite-plugin-compression2';

/** What draws cupboards, moves things in them, works through run sheets and asks of households: not wanted for a first sentence, however many pages use it. */
const LATER =
  /node_modules[\\/](@dnd-kit|@mantine[\\/](form|core[\\/]esm[\\/]components[\\/]NumberInput)|qrcode\.react|react-number-format|papaparse)[\\/]|src[\\/](job[\\/](cupboard|layout|sheet|HouseholdSheet)|firm[\\/])/;
const PACKAGE = /node_modules[\\/]/;
/** Drawn only where there are charts, and as much as all the rest. */
const CHARTS = /node_modules[\\/](recharts|d3-[a-z]+|victory-vendor|decimal\.js-light|es-toolkit)[\\/]/;

/** What makes it an application that is installed and opens without signal: all of it is kept on the device. */
const kept = VitePWA({
  strategies: 'injectManifest',
  srcDir: 'src/boot',
  filename: 'serviceWorker.ts',
  injectRegister: false,
  injectManifest: {
    globPatterns: ['**/*.{js,css,html,svg,png,woff2,csv}'],
    // alphabets nothing of the page is written in
    globIgnores: ['**/*-{cyrillic,greek,vietnamese}*.woff2'],
    // their names change with what is in them
    dontCacheBustURLsMatching: /^assets\//,
    maximumFileSizeToCacheInBytes: 4_000_000,
  },
  manifest: {
    name: 'Katharos',
    short_name: 'Katharos',
    description: 'Under-sink reverse osmosis: gauged, sized, plumbed, flushed, proved and kept.',
    start_url: '/',
    display: 'standalone',
    background_color: '#f2f5f4',
    theme_color: '#14262b',
    icons: [
      { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
      { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
      { src: '/icon-maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
    ],
  },
});

/** Has the browser fetch what the page is drawn by as soon as it sees the page, not once the first script has asked for it. */
const beginAtOnce: Plugin = {
  name: 'begin-at-once',
  transformIndexHtml: {
    order: 'post',
    handler: (html, { bundle = {} }) => {
      const wanted = new Set<string>();
      const want = (name: string): void => {
        const chunk = bundle[name];
        if (chunk?.type !== 'chunk' || wanted.has(name)) return;
        wanted.add(name);
        chunk.imports.forEach(want);
      };
      for (const c of Object.values(bundle))
        if (c.type === 'chunk' && c.facadeModuleId?.endsWith('/src/main.tsx')) want(c.fileName);
      return [...wanted]
        .filter((name) => !html.includes(name))
        .map((name) => ({
          tag: 'link',
          attrs: { rel: 'modulepreload', crossorigin: true, href: `/${name}` },
          injectTo: 'head' as const,
        }));
    },
  },
};

export default defineConfig({
  plugins: [react(), kept, beginAtOnce, compression({ algorithms: ['gzip', 'brotliCompress'], exclude: [/\.woff2$/] })],
  resolve: { dedupe: ['react', 'react-dom'] },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: false,
    modulePreload: { polyfill: false },
    assetsInlineLimit: 0, // no data: fonts or workers, so the content security policy stays short
    chunkSizeWarningLimit: 600,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            // what begins before anything else has come must wait for nothing else
            {
              name: 'ahead',
              test: /[\\/]web[\\/]src[\\/]boot[\\/]|vite[\\/]preload-helper/,
              priority: 50,
            },
            {
              name: 'react',
              test: /node_modules[\\/](react|react-dom|scheduler|react-router)[\\/]/,
              priority: 30,
            },
            {
              name: 'redux',
              test: /node_modules[\\/](@reduxjs|react-redux|redux|immer|reselect)[\\/]/,
              priority: 20,
            },
            // what several pages use is fetched once, in one piece: small pieces wait on one another
            {
              name: 'shared',
              test: (id) => !CHARTS.test(id) && !LATER.test(id) && !PACKAGE.test(id),
              minShareCount: 2,
              priority: 12,
            },
            {
              name: 'packages',
              test: (id) => !CHARTS.test(id) && !LATER.test(id) && PACKAGE.test(id),
              minShareCount: 3,
              priority: 10,
            },
            { name: 'charts', test: CHARTS, priority: 0 },
          ],
        },
      },
    },
  },
  server: {
    host: '127.0.0.1',
    proxy: {
      '/api':
        (globalThis as { process?: { env: Record<string, string> } }).process?.env.KATHAROS_API ??
        'http://127.0.0.1:4170',
    },
  },
});
