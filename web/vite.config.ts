import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** What every screen needs, in two pieces: they compress better so, and the first outlives our own changes. */
const BASE = [
  "react",
  "react-dom",
  "scheduler",
  "@tanstack/(?!.*virtual)[^/]+",
  "openapi-fetch",
  "idb-keyval",
];
const PARTS = [
  "format/(?!parse|typed|reading|hands|settings)",
  "parts/(?!Sheet|Pick|Time|usePrinting|FigureW|TermM|Act|useR|Room|Text|Choices|PackS|FitR|OneOf|Search|finder)",
  "charts/(Chart|Axes|scale|useW)",
  "app/(doc|merge|cho|comm|useL|Save|Miss)",
  "gear/q",
];

export default defineConfig(({ command }) => ({
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src",
      filename: "sw.ts",
      scope: "/",
      injectRegister: false,
      injectManifest: { globPatterns: ["**/*.{js,css,woff2,svg}"], rollupFormat: "iife" },
      // only a paired phone gets it, as any other file
      useCredentials: true,
      manifest: {
        name: "Cold Stack",
        short_name: "Cold Stack",
        description: "Choose, charge and keep battery packs for radio-controlled models",
        id: "/",
        start_url: "/",
        scope: "/",
        display: "standalone",
        background_color: "#f5f8f9",
        theme_color: "#f5f8f9",
        icons: [
          { src: "icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
        ],
      },
    }),
  ],
  base: command === "build" ? "/static/" : "/",
  html: { cspNonce: "__CSP_NONCE__" },
  build: {
    outDir: "../coldstack/web_dist",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              name: "base",
              test: new RegExp(`node_modules/(${BASE.join("|")})/`),
              priority: 2,
            },
            {
              name: "parts",
              test: new RegExp(`src/(${PARTS.join("|")})`),
              minShareCount: 2,
              priority: 1,
            },
          ],
        },
      },
    },
  },
  server: {
    // changeOrigin would make Django refuse every unsafe request
    proxy: { "/api": { target: "http://127.0.0.1:8600", changeOrigin: false } },
  },
}));
