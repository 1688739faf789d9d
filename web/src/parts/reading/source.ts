import { createContext, type ReactNode } from "react";
import { clipAddress, type Figure, figureAddress } from "../../base/api/client";

type Source = {
  figure: typeof figureAddress;
  clip: typeof clipAddress;
  guest: boolean;
  /** What lies over a picture, by its figure. */
  over?: (figure: string) => ReactNode;
  /** A picture with what stands around it. */
  around?: (figure: Figure, picture: ReactNode) => ReactNode;
};

/**
 * Where the pictures of what is followed come from, and whether its reader has an account that opens other documents.
 */
export const Source = createContext<Source>({ figure: figureAddress, clip: clipAddress, guest: false });
