import { useState } from "react";
import type { Clip } from "../../base/api/client";
import { OwnVoice } from "./OwnVoice";
import { Button } from "../../base/ui/controls";
import { clipLength } from "./time";

/** Another sound instead of a clip's own: spoken while it is watched, or for it. */
export function ClipSound(props: { document: string; clip: Clip; onChange: (voice: string | undefined) => void }) {
  const { clip } = props;
  const [open, setOpen] = useState(clip.voice !== undefined);
  if (!open)
    return (
      <Button small onClick={() => setOpen(true)}>
        {clip.sounds ? "Replace the sound" : "Add a voice"}
      </Button>
    );
  return (
    <div className="w-60 text-sm">
      <OwnVoice
        document={props.document}
        voice={clip.voice ? { sha256: clip.voice, ms: clipLength(clip) } : undefined}
        silent
        name="the clip"
        onVoice={(voice) => props.onChange(voice?.sha256)}
      />
    </div>
  );
}
