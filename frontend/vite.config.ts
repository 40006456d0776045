import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import type { Plugin } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'
import { defineConfig } from 'vitest/config'

/** The server does not compress while it serves, so the built text files are compressed once, here. */
function precompress(): Plugin {
  return {
    name: 'precompress',
    apply: 'build',
    writeBundle(options, bundle) {
      // after everything else: other plugins still change the code while the bundle is generated
      for (const name of Object.keys(bundle)) {
        if (!/\.(js|css|svg)$/.test(name)) continue
        const path = join(options.dir ?? '', name)
        writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: 9 }))
      }
    },
  }
}

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    precompress(),
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Tin Knot',
        short_name: 'Tin Knot',
        description: 'Cable joints: measured, chosen, built, recorded.',
        display: 'standalone',
        background_color: '#e2e6e5',
        theme_color: '#1d2529',
        icons: [{ src: '/knot.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        clientsClaim: true,
      },
    }),
  ],
  build: { outDir: '../src/tinknot/web/static/app', emptyOutDir: true, target: 'es2022' },
  test: { testTimeout: 60_000 },
  server: { proxy: { '/api': 'http://127.0.0.1:5117' } },
})
