import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [react()],
  root: import.meta.dirname,
  // Its list of 130 files would push away what whoever starts the demo has to read.
  logLevel: 'warn',
  build: { outDir: 'dist', manifest: true },
  // For work on the interface alone: the server runs beside it.
  server: { proxy: { '/api': process.env.BICHROMA_SERVER ?? 'http://127.0.0.1:4610' } },
})
