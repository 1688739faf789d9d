import { useEffect, useState } from "react";
import { change, useSettings } from "../../parts/shots/settings";
import { Button } from "../../base/ui/controls";
import { withPointer } from "../../parts/capture/filming";

type Device = { id: string; name: string };

/** What recordings are made with: the pointer, a microphone, a camera in the corner. */
export function FilmOptions() {
  const { film } = useSettings();
  const [devices, setDevices] = useState<{ microphones: Device[]; cameras: Device[]; named: boolean }>();
  const [said, setSaid] = useState("");
  const look = async () => {
    const all = await navigator.mediaDevices.enumerateDevices();
    const of = (kind: string) =>
      all
        .filter((d) => d.kind === kind && d.deviceId)
        .map((d, i) => ({ id: d.deviceId, name: d.label || `Number ${i + 1}` }));
    setDevices({ microphones: of("audioinput"), cameras: of("videoinput"), named: all.some((d) => d.label !== "") });
  };
  useEffect(() => {
    if ("mediaDevices" in navigator) void look();
  }, []);
  const ask = async (wish: MediaStreamConstraints) => {
    try {
      const stream = await navigator.mediaDevices.getUserMedia(wish);
      stream.getTracks().forEach((t) => t.stop());
      setSaid("");
    } catch {
      setSaid("The browser was told not to let it be used, or there is none.");
    }
    await look();
  };
  return (
    <fieldset>
      <legend className="mb-1 font-bold">Recordings</legend>
      <label className="flex items-baseline gap-2 py-0.5">
        <input
          type="checkbox"
          checked={film.pointer}
          onChange={(e) => withPointer(e.target.checked)}
          className="translate-y-0.5"
        />
        With the mouse pointer
      </label>
      <Choose
        label="Microphone"
        none="None"
        value={film.microphone}
        devices={devices?.microphones ?? []}
        onChoose={(microphone) => change({ film: { ...film, microphone } })}
      />
      <Choose
        label="Your camera, in a corner"
        none="Off"
        value={film.camera}
        devices={devices?.cameras ?? []}
        onChoose={(camera) => change({ film: { ...film, camera } })}
      />
      {devices && !devices.named && (
        <div className="mt-2 flex flex-wrap gap-2">
          <Button small onClick={() => void ask({ audio: true })}>
            Let a microphone be used
          </Button>
          <Button small onClick={() => void ask({ video: true })}>
            Let a camera be used
          </Button>
        </div>
      )}
      {said && (
        <p role="alert" className="mt-1 text-sm text-mustfix">
          {said}
        </p>
      )}
      <label className="mt-2 block text-sm">
        <span className="text-soft">Begin</span>
        <select
          value={film.countdown}
          onChange={(e) => change({ film: { ...film, countdown: Number(e.target.value) } })}
          className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
        >
          <option value={0}>at once</option>
          <option value={3}>after 3 seconds</option>
          <option value={5}>after 5 seconds</option>
        </select>
      </label>
    </fieldset>
  );
}

function Choose(props: {
  label: string;
  none: string;
  value: string;
  devices: Device[];
  onChoose: (id: string) => void;
}) {
  return (
    <label className="mt-2 block text-sm">
      <span className="text-soft">{props.label}</span>
      <select
        value={props.value}
        onChange={(e) => props.onChoose(e.target.value)}
        className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
      >
        <option value="">{props.none}</option>
        {props.devices.map((d) => (
          <option key={d.id} value={d.id}>
            {d.name}
          </option>
        ))}
      </select>
    </label>
  );
}
