import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'
import { compression, defineAlgorithm } from 'vite-plugin-compression2'
import { paletteCss } from './src/theme/palette.ts'

/**
 * A line break in a template is a space, as HTML has it and as Prettier takes it to be. Vue's own
 * default drops it between two elements, so that two words stand glued after a reformatting.
 */
const TEXT = 2 // of the compiler's kinds of nodes
const space = (node: { type: number }): void => {
  if (node.type === TEXT && 'content' in node)
    node.content = String(node.content).replace(/[ \t\r\n]+/g, ' ')
}

/** The palette as `virtual:palette.css`. */
const palette = (): Plugin => ({
  name: 'palette',
  resolveId: (id) => (id === 'virtual:palette.css' ? id : undefined),
  load: (id) => (id === 'virtual:palette.css' ? paletteCss() : undefined),
})

export default defineConfig({
  plugins: [
    palette(),
    compression({
      threshold: 1000,
      algorithms: [defineAlgorithm('brotliCompress'), defineAlgorithm('gzip')],
    }),
    vue({ template: { compilerOptions: { whitespace: 'preserve', nodeTransforms: [space] } } }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': 'http://127.0.0.1:8417' } },
})
