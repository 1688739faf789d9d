import { outbox } from "../outbox/outbox";
import { storage } from "../../base/storage/storage";

/** Whether something of the person's is not on the server yet. */
export const somethingWaits = async () => outbox.waiting > 0 || (await storage.unsaved().catch(() => [])).length > 0;
