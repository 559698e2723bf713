// Builds `web_logic.ts` into one script; the tests say where to.
export default {
  build: {
    lib: { entry: "../tests/browser/web_logic.ts", formats: ["iife"], name: "logic", fileName: () => "logic.js" },
    minify: false,
  },
  define: { "process.env.NODE_ENV": '"production"' },
};
