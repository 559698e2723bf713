/// <reference lib="webworker" />
import { cleanupOutdatedCaches, precacheAndRoute, type PrecacheEntry } from "workbox-precaching";
import { registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: (PrecacheEntry | string)[] };

/**
 * What stands between the pages and the network, so that a visit goes on in a dead spot: the app's own files are kept on
 * this device, its page too, and of the server's answers those that a visit needs. The network always comes first.
 */
precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();

/** What a visit needs of the server: who is here, the words, the visit, its photographs, its tank; nothing that is live. */
const NEEDED =
  /^\/api\/(session|words|visits\/\d+|visit-photos\/\d+|tanks\/\d+(\/(curve|gauge|marks|stations))?)\/$/;

/** Only whole answers are kept, and no page that leads to the sign-in. */
const whole = {
  cacheWillUpdate: ({ response }: { response: Response }) =>
    Promise.resolve(response.ok && !response.redirected ? response : null),
};

registerRoute(
  ({ request, url }) => request.mode === "navigate" && !/^\/(api|r|static|sign-in)(\/|$)/.test(url.pathname),
  new NetworkFirst({
    cacheName: "rasante-page",
    plugins: [whole, { cacheKeyWillBeUsed: () => Promise.resolve("/") }],
  }),
);

registerRoute(
  ({ request, url }) => request.method === "GET" && NEEDED.test(url.pathname),
  new NetworkFirst({
    cacheName: "rasante-answers",
    plugins: [
      whole,
      {
        // Whoever gets a kept answer is told that it is one.
        cachedResponseWillBeUsed: ({ cachedResponse }) => {
          if (!cachedResponse) return Promise.resolve(null);
          const headers = new Headers(cachedResponse.headers);
          headers.set("X-Rasante-Kept", "yes");
          const { status, statusText } = cachedResponse;
          return Promise.resolve(new Response(cachedResponse.body, { status, statusText, headers }));
        },
      },
    ],
  }),
);
