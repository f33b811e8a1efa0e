import { useEffect } from "react";

/** Lets the browser keep the recorder's page, for whoever records here. Once the page has nothing else to do. */
export function useShell(wanted: boolean): void {
  useEffect(() => {
    if (!wanted || !import.meta.env.PROD || !("serviceWorker" in navigator)) return;
    const keep = () =>
      // Not kept (a private window, a full disk): everything works as before, with a connection.
      void navigator.serviceWorker.register("/shell.js").catch(() => undefined);
    const timer = setTimeout(keep, 3_000);
    return () => clearTimeout(timer);
  }, [wanted]);
}
