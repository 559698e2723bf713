import { readdirSync, readFileSync } from "node:fs";

import purgeCSSPlugin from "@fullhuman/postcss-purgecss";
import react from "@vitejs/plugin-react";
import type { Plugin } from "postcss";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Every class that our own styles know: they are all used, some by names that are put together. */
const OWN = readdirSync("src", { recursive: true, encoding: "utf8" })
  .filter((name) => name.endsWith(".css"))
  .flatMap((name) => [...(readFileSync(`src/${name}`, "utf8").match(/(?<=\.)[a-z][\w-]*/gi) ?? [])]);

/** Of Bootstrap's styles only what is used here is sent: its classes are named in our sources, or by the components. */
const purge = purgeCSSPlugin({
  content: ["index.html", "src/**/*.{ts,tsx}", "node_modules/react-bootstrap/esm/{Button,CloseButton,Fade,Modal*,Dropdown*,Form*}.js"],
  safelist: { greedy: [/^uplot/, /^u-/], deep: [/data-bs-theme/], standard: [/^modal/, /^dropdown/, ...new Set(OWN)] },
  dynamicAttributes: ["data-bs-theme"],
  blocklist: [/^form-(range|floating|switch|check)/, /^modal-fullscreen/, /^drop(start|end|up)/, /^container/],
});
/** Bootstrap comes in with this file; all others are our own, and would be looked through in vain. */
const used: Plugin = {
  postcssPlugin: "used",
  OnceExit: async (root, helpers) => {
    if ("OnceExit" in purge && root.source?.input.file?.endsWith("/base.css")) await purge.OnceExit(root, helpers);
  },
};

/**
 * What every page needs, what a page of fields does, and what every tank's page does; the rest goes with the page that
 * asks. A file of its own for each small thing would be a wait for each.
 */
const OF_A_TANK = [
  "app/(TankPage|senders)",
  "board/stations",
  "drawing/",
  "faults/trouble\\.",
  "gauges/gauge\\.",
  "line/(?!curveQuery)",
  "loading/load\\.",
  "pouring/pour\\.",
  "proving/useDraftProof",
  "readings/(now|NowBar|TakeButton|TakenField)\\.",
  "scaling/(chain|marks)\\.",
  "tanks/(survey/|profiles|shown)",
  "visits/queue\\.",
  "wiring/wiring\\.ts",
];
/** What the sign-in does without: menus, dialogs, and what changes something. */
const AFTER_THE_DOOR = [
  "node_modules/(@babel|@popperjs|dequal|dom-helpers|invariant|prop-types|react-(aria|lifecycles|transition)|uncontrollable|warning)",
  "@restart/(?!ui/esm/Button)",
  "react-bootstrap/esm/(?!Button\\.|ThemeProvider)",
  "(useMutation|mutationObserver|useInfiniteQuery|infiniteQueryObserver)\\.",
  "src/(app/PersonMenu|frame/(Dialog|KeepState)|people/ConfirmDelete)",
];
const GROUPS = [
  { name: "menus", test: new RegExp(AFTER_THE_DOOR.join("|")) },
  { name: "libraries", test: /node_modules\/(?!uplot|d3-|internmap|@tanstack\/(virtual|react-virtual))/ },
  { name: "fields", test: /src\/frame\/(FormField|SettingField|Panes|Choice|Judgements|PlanBar|plan|pages)/ },
  { name: "frame", test: /src\/(frame|api|people)\/(?!AccountPage|PeoplePage|Chart)/ },
  { name: "tank", test: new RegExp(`node_modules/(d3-|internmap)|src/(${OF_A_TANK.join("|")})`) },
];

export default defineConfig(({ command }) => ({
  plugins: [
    react(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src/app",
      filename: "sw.ts",
      // Registered by app/offline.ts at the root: its files stand under /static/, what it keeps does not.
      injectRegister: null,
      injectManifest: {
        globPatterns: ["assets/*.{js,css,woff2}", "mark.svg"],
        modifyURLPrefix: { "": "/static/" },
      },
      manifest: {
        name: "Rasante",
        short_name: "Rasante",
        description: "Survey, table, scale, prove and watch level transmitters",
        start_url: "/visits",
        scope: "/",
        display: "standalone",
        background_color: "#F6F3EC",
        theme_color: "#F6F3EC",
        icons: [{ src: "/static/mark.svg", sizes: "any", type: "image/svg+xml" }],
      },
    }),
  ],
  css: { postcss: { plugins: command === "build" ? [used] : [] } },
  base: command === "build" ? "/static/" : "/",
  build: {
    outDir: "../rasante/webapp",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 800,
    // One file of styles, and few files of scripts: on a slow network every file is a wait of its own.
    cssCodeSplit: false,
    rolldownOptions: { output: { codeSplitting: { groups: GROUPS, includeDependenciesRecursively: false } } },
  },
  // The server must see the address that the browser sees, or it takes a sign-in for a forged one.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8000", changeOrigin: false } } },
}));
