/// <reference types="vitest/config" />
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";
import { compressed } from "./compressed.ts";
import { notices } from "./notices.ts";

/** Answers of the API that were kept by a page of another shape are not shown by this one. */
const shape = createHash("sha256").update(readFileSync("openapi.json")).digest("hex").slice(0, 16);

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      // A newer version waits until the person opens it.
      registerType: "prompt",
      injectRegister: false,
      includeAssets: ["tuft.svg"],
      manifest: {
        name: "Ink Meadow",
        short_name: "Ink Meadow",
        description: "Plan, time, measure and record every stand of hay, silage and pasture.",
        id: "/",
        start_url: "/",
        display: "standalone",
        background_color: "#fefefd",
        theme_color: "#fefefd",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
          { src: "/tuft.svg", sizes: "any", type: "image/svg+xml" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,png,woff2}"],
        navigateFallback: "/index.html",
        // What the server reckons is asked for, never kept by the worker: the page keeps it, with its age.
        navigateFallbackDenylist: [/^\/api\//, /^\/third-party\.txt$/],
        cleanupOutdatedCaches: true,
        // On the first visit the open page is served from then on too.
        clientsClaim: true,
      },
    }),
    notices(),
    compressed(),
  ],
  define: { __API_SHAPE__: JSON.stringify(shape) },
  build: { target: "es2022", assetsInlineLimit: 0, manifest: "manifest.json" },
  // The host that the page came from is told on: writes from elsewhere are refused by it.
  server: {
    proxy: { "/api": { target: process.env["INK_API"] ?? "http://127.0.0.1:4747", changeOrigin: false } },
  },
  test: { environment: "node", include: ["tests/**/*.test.ts"] },
});
