import { createContext, useContext } from "react";

/** The page's script nonce while it is rendered on the server; browsers hide it afterwards. */
const NonceContext = createContext<string | undefined>(undefined);
export const Nonce = NonceContext.Provider;
export const useNonce = (): string | undefined => useContext(NonceContext);
