import { useWhole } from "../../base/store";
import { outbox } from "./outbox";

export const useOutbox = () => useWhole(outbox);
