import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig(({ command }) => ({
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  plugins: [react(), tailwindcss()],
  base: command === "build" ? "/static/" : "/",
  html: { cspNonce: "__CSP_NONCE__" },
  build: { outDir: "../coldstack/web_dist", emptyOutDir: true, assetsInlineLimit: 0 },
  server: {
    // changeOrigin would make Django refuse every unsafe request
    proxy: { "/api": { target: "http://127.0.0.1:8600", changeOrigin: false } },
  },
}));
