/** Let this device keep the app and what a visit needs, so that it opens in a dead spot. */
export function keepOnDevice(): void {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  // After the page: what it keeps is nothing that the first look waits for.
  window.addEventListener("load", () => {
    navigator.serviceWorker.register("/sw.js").catch(() => undefined);
  });
}
