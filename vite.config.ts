import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: 'web',
  plugins: [react(), tailwindcss({ optimize: false })],
  // Colours are `light-dark()` pairs, chosen where they are used: the view keeps those of day. A rewriting for browsers
  // without it would choose them once, for the whole page.
  build: {
    cssTarget: ['chrome123', 'firefox120', 'safari17.5'],
    outDir: '../dist/web',
    emptyOutDir: true,
    chunkSizeWarningLimit: 1500,
  },
});
