import { createContext } from "react";
import { figureAddress } from "../api/client";

/** Where the pictures of what is followed come from, and whether its reader has an account that opens other documents. */
export const Source = createContext({ figure: figureAddress, guest: false });
