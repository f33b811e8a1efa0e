import { use } from "react";
import { preinitModule } from "react-dom";
import { NonceContext, PlayerModulesContext } from "../components/nonce";

/** Runs the player before the page comes alive; see `early`. */
export function usePlayerFirst(): void {
  const nonce = use(NonceContext);
  for (const module of use(PlayerModulesContext)) preinitModule(module, { as: "script", nonce });
}
