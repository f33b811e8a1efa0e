import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";

const nonce = document.querySelector<HTMLScriptElement>("script[nonce]")?.nonce;
const cache = createCache({ key: "cn", nonce });

startTransition(() => {
  hydrateRoot(
    document,
    <CacheProvider value={cache}>
      <HydratedRouter />
    </CacheProvider>,
  );
});
