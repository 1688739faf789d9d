import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useRef, useState } from "react";

type Notice = { text: string; action?: { label: string; run: () => void } };

const NoticeContext = createContext<(notice: Notice) => void>(() => undefined);

/** Tells people of something at the foot of the page. */
export const useNotice = () => useContext(NoticeContext);

const most = 3; // at once; the oldest without an action goes first

export function Notices({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<(Notice & { id: number })[]>([]);
  const last = useRef(0);
  const tell = useCallback(
    (notice: Notice) =>
      setNotices((all) => {
        const more = [...all.filter((n) => n.text !== notice.text), { ...notice, id: ++last.current }];
        if (more.length <= most) return more;
        const goes = more.find((n) => !n.action) ?? more[0];
        return more.filter((n) => n !== goes);
      }),
    [],
  );
  const drop = (id: number) => setNotices((all) => all.filter((n) => n.id !== id));
  return (
    <NoticeContext.Provider value={tell}>
      <Toast.Provider swipeDirection="down" label="Notice">
        {children}
        {notices.map((n) => (
          <Toast.Root
            key={n.id}
            duration={n.action ? 12000 : 6000}
            onOpenChange={(open) => !open && drop(n.id)}
            className="on-dark flex max-w-[92vw] items-center gap-4 rounded bg-ink px-4 py-2.5 text-paper"
          >
            <Toast.Description>{n.text}</Toast.Description>
            {n.action && (
              <Toast.Action
                altText={`${n.action.label}: ${n.text}`}
                className="font-bold text-call underline"
                onClick={() => n.action?.run()}
              >
                {n.action.label}
              </Toast.Action>
            )}
            <Toast.Close className="text-mist underline">Close</Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport
          label="Notices ({hotkey})"
          className="fixed bottom-5 left-1/2 z-50 flex -translate-x-1/2 flex-col items-center gap-2 outline-none"
        />
      </Toast.Provider>
    </NoticeContext.Provider>
  );
}
