import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";
import { pageNonce } from "./components/nonce";

const cache = createCache({ key: "cn", nonce: pageNonce() });

startTransition(() => {
  hydrateRoot(
    document,
    <CacheProvider value={cache}>
      <HydratedRouter />
    </CacheProvider>,
  );
});
