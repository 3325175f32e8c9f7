// Builds the web interface; in development it talks to a server on port 4310.
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const server = process.env['BLENDRAK_SERVER'] ?? 'http://localhost:4310';

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 1500 },
  server: { proxy: { '/api': server, '/iiif': server } },
});
