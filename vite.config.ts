import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import pxToRem from 'postcss-pxtorem';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';
import { Chunks } from './scripts/chunks';
import { chunkByLicence, remembersLicences, writesLicences } from './scripts/licences';
import { packs } from './scripts/packed';

const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

/**
 * Everything works with the network off after one visit: the application lies in the cache as it was when it came, the
 * demo as it is fetched. A newer version is fetched in the background and waits until it is asked
 * for: nothing changes in the middle of a show.
 */
const offline = VitePWA({
  registerType: 'prompt',
  injectRegister: null,
  manifest: {
    name: 'Wavicle',
    short_name: 'Wavicle',
    description: 'Layers, splits and crossfades for the stage',
    start_url: '/stage',
    scope: '/',
    display: 'standalone',
    orientation: 'any',
    background_color: '#0b1418',
    theme_color: '#0b1418',
    icons: [
      { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
      { src: '/icon-512.png', sizes: '512x512', type: 'image/png', purpose: 'any' },
      { src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' },
    ],
  },
  workbox: {
    globPatterns: ['**/*.{js,css,html,svg,png,woff2,wasm}'],
    globIgnores: ['remote.html', '**/remote-*'],
    maximumFileSizeToCacheInBytes: 8e6,
    navigateFallback: '/index.html',
    navigateFallbackDenylist: [/^\/demo\//, /^\/remote/, /^\/pair/],
    // The rig's text and the takes change with a new version of the demo: the network first, where it answers. Its
    // samples the application keeps by itself.
    runtimeCaching: [
      {
        urlPattern: /\/demo\/(?!samples\/)/,
        handler: 'NetworkFirst',
        options: { cacheName: 'demo', networkTimeoutSeconds: 3 },
      },
    ],
  },
});

/** Parts that must be exchangeable lie in files of their own. */
const byLicence = { name: (id: string) => chunkByLicence(id) ?? null, debugName: 'by licence' };
const chunks = new Chunks(import.meta.dirname);

/**
 * Every length grows with the text that its reader has chosen, also where the page is not zoomed: words that grow have
 * room. Lines stay as thin as they are.
 */
const growsWithText = pxToRem({
  rootValue: 16,
  unitPrecision: 5,
  propList: ['*', '!border*', '!outline*', '!box-shadow', '!--tw-ring*', '!--tw-shadow*'],
  mediaQuery: true,
  minPixelValue: 3,
});

export default defineConfig({
  css: { postcss: { plugins: [growsWithText] } },
  plugins: [react(), tailwind(), offline, remembersLicences(), writesLicences(), packs()],
  worker: {
    format: 'es',
    plugins: () => [remembersLicences()],
    rolldownOptions: { output: { codeSplitting: { groups: [byLicence] } } },
  },
  server: { headers, port: 4181, proxy: { '/demo': `http://localhost:${process.env.PORT ?? 4180}` } },
  build: {
    target: 'es2022',
    // The server tells by it what a view needs.
    manifest: true,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      input: ['index.html', 'remote.html'],
      output: {
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [{ name: (id, modules) => chunks.nameOf(id, modules) ?? null, debugName: 'loaded together' }],
        },
      },
      // What is said to be loaded later, and is there from the start because somebody else imports it too, is a
      // mistake.
      onwarn(warning, warn) {
        const late = /(src\/\S+) is dynamically imported/.exec(warning.message)?.[1];
        if (late && chunks.isAtStart(late)) throw new Error(warning.message);
        if (late) return;
        warn(warning);
      },
    },
  },
});
