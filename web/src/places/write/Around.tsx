import type { ComponentProps, ReactNode } from "react";
import { Comment, type Commenting, Pinned } from "../../parts/comments/commenting";
import { Refer } from "../../parts/words/refer";
import { AtDesk, type Desk } from "./desk";

/** What is at hand in everything below. */
export function Around(props: {
  desk: Desk;
  refer: ComponentProps<typeof Refer.Provider>["value"];
  comment: Commenting["begin"];
  pinned: ComponentProps<typeof Pinned.Provider>["value"];
  children: ReactNode;
}) {
  return (
    <AtDesk.Provider value={props.desk}>
      <Refer.Provider value={props.refer}>
        <Comment.Provider value={props.comment}>
          <Pinned.Provider value={props.pinned}>{props.children}</Pinned.Provider>
        </Comment.Provider>
      </Refer.Provider>
    </AtDesk.Provider>
  );
}
