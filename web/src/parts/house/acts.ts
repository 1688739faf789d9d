import type { TrailAct } from "../../base/api/client";

/** What the trail tells of, in words. */
export const acts: Record<TrailAct, string> = {
  created: "created",
  released: "released",
  review: "sent for review",
  approved: "approved",
  shared: "shared",
  downloaded: "took a file of",
  moved: "moved",
  retired: "retired",
  deleted: "deleted",
  confirmed: "confirmed",
  access: "changed access",
  sent: "sent",
  receiver: "set up a receiver",
};
