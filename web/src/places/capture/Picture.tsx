import { useEffect } from "react";
import { useNavigate } from "react-router";
import type { Account } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { isPicture, useArriving } from "../../base/ui/arriving";
import { ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { bring } from "../../parts/capture/useInflow";
import { useTitle } from "../../base/ui/title";

/** A picture that is pasted or dropped opens on the stage at once. */
export function usePictureOpens() {
  const navigate = useNavigate();
  const notice = useNotice();
  const open = async (file: File | undefined, source: "file" | "clipboard") => {
    if (!file) return;
    if (!isPicture(file)) {
      notice({ text: `${file.name} is no picture. Nothing was changed.` });
      return;
    }
    await loadCore();
    const item = await bring(file, source, new Date(), source === "file" ? file.name : undefined);
    // The empty page is no place to come back to.
    await navigate(`/shot/${item.id}`, { replace: location.pathname === "/picture" });
  };
  useArriving({
    onPaste: ([picture]) => void open(picture, "clipboard"),
    onDrop: ([file]) => void open(file, "file"),
  });
  return open;
}

/** Just this picture: marked, copied, and on to the next, with no document. */
export function Picture({ account }: { account: Account }) {
  useTitle("Picture");
  const open = usePictureOpens();
  useEffect(() => void loadCore(), []);
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-xl px-4 pt-28">
        <h1 className="mb-2 text-2xl font-bold">Just one picture</h1>
        <p className="mb-2">
          Copy a screen and paste it here. It opens to be marked at once: a key of the pad, a drag, the words. Copy puts
          the finished picture on the clipboard.
        </p>
        <p className="mb-5 text-soft">Paste the next one straight over it. Each stays among your shots.</p>
        <ChooseFiles label="Choose a file" accept="image/*" onFiles={([file]) => void open(file, "file")} />
      </main>
    </>
  );
}
