import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: {
    // the content policy forbids data: fonts, and styles are few
    assetsInlineLimit: 0,
    // three.js is one lazily loaded piece and larger than the default mark
    chunkSizeWarningLimit: 900,
  },
});
