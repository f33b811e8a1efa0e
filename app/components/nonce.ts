import { createContext } from "react";

/** Lets the server's own scripts and styles pass the content security policy. Undefined in the browser. */
export const NonceContext = createContext<string | undefined>(undefined);
