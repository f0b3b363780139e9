import { createContext, useContext } from "react";
import type { UnitSystem } from "#core";

/** Units of whoever looks at the page: the firm's, or this device's choice before anybody signed in. */
export const UnitsContext = createContext<UnitSystem>("us");
export const useUnits = (): UnitSystem => useContext(UnitsContext);
