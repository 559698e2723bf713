import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";


export default defineConfig(({ command }) => ({
  plugins: [react()],
  base: command === "build" ? "/static/" : "/",
  build: { outDir: "../rasante/webapp", emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 800 },
  // The server must see the address that the browser sees, or it takes a sign-in for a forged one.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8000", changeOrigin: false } } },
}));
