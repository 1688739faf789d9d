import type { CommentPlace } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { aboutPicture } from "./aboutPicture";
import { unsent } from "../../base/ui/unsent";
import { Compose } from "./Compose";
import { useSay } from "./useComments";

/** A comment that is being made. */
export function Begun({ document, place, onDone }: { document: string; place: CommentPlace; onDone: () => void }) {
  const { say } = useSay(document);
  const keep = `comment ${document} ${JSON.stringify(place)}`;
  return (
    <section aria-label="New comment" className="border-l-[3px] border-call pl-3">
      <p className="text-sm text-soft">
        {place.words ? (
          <i>“{shown(place.words.text)}”</i>
        ) : place.figure ? (
          aboutPicture(place)
        ) : place.block ? (
          "About this step"
        ) : (
          "About the document"
        )}
      </p>
      <Compose
        label="Your comment"
        keep={keep}
        confirm="Comment"
        autoFocus
        busy={say.isPending}
        error={say.error}
        onLeave={onDone}
        onSay={(body, mentions) =>
          say.mutate(
            { id: crypto.randomUUID(), place, body, mentions },
            { onSuccess: () => (unsent.delete(keep), onDone()) },
          )
        }
      />
    </section>
  );
}
