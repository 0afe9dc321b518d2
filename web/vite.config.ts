import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig, type Plugin } from 'vite'

/** Lists the built files, so that the service worker can keep them for a walk without a network: all but the guide's
 * pictures, and letters for browsers that have no service worker. */
const listFiles: Plugin = {
  name: 'list-files',
  generateBundle(_, bundle) {
    const source = JSON.stringify(
      Object.keys(bundle).filter((name) => name.startsWith('assets/') && !/\.(png|woff)$/.test(name)),
    )
    this.emitFile({ type: 'asset', fileName: 'files.json', source })
  },
}

/** Puts all that the page begins with into one file: on a slow line every file asked for costs a turn. */
const whole: Plugin & { begins: Set<string> } = {
  name: 'whole',
  begins: new Set(),
  buildEnd() {
    const reach = (id: string) => {
      if (whole.begins.has(id)) return
      whole.begins.add(id)
      this.getModuleInfo(id)?.importedIds.forEach(reach)
    }
    for (const id of this.getModuleIds()) if (this.getModuleInfo(id)?.isEntry) reach(id)
  },
}

/** Packs scripts and styles once, better than a server would each time. */
const pack: Plugin = {
  name: 'pack',
  writeBundle({ dir = '' }, bundle) {
    for (const name of Object.keys(bundle).filter((n) => /\.(js|css)$/.test(n))) {
      const file = join(dir, name)
      const plain = readFileSync(file)
      writeFileSync(`${file}.br`, brotliCompressSync(plain))
      writeFileSync(`${file}.gz`, gzipSync(plain, { level: 9 }))
    }
  },
}

export default defineConfig({
  plugins: [react(), tailwindcss(), whole, listFiles, pack],
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    rolldownOptions: {
      output: { codeSplitting: { groups: [{ name: 'frame', test: (id: string) => whole.begins.has(id) }] } },
    },
  },
  server: { host: '127.0.0.1', port: 5173, strictPort: true, proxy: { '/api': 'http://127.0.0.1:8080' } },
})
