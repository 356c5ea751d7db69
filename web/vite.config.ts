import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { svelteTesting } from "@testing-library/svelte/vite";
import { defineConfig } from "vitest/config";

const server = "http://127.0.0.1:8800";

export default defineConfig({
  plugins: [tailwindcss(), svelte(), svelteTesting()],
  build: { assetsInlineLimit: 0, sourcemap: false, target: "es2022" },
  // the catalogue of sentences is the core's
  server: { fs: { allow: [".."] }, proxy: { "/api": { target: server, changeOrigin: false } } },
  test: {
    environment: "jsdom",
    testTimeout: 30_000,
    include: ["tests/**/*.test.ts"],
    setupFiles: ["tests/setup.ts"],
  },
});
