import jsQR from "jsqr";
import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";

type Props = { onFound: (path: string) => void; onClose: () => void };

/** A label opens a place of this site, whatever the host under which it was printed. */
export function placeOf(text: string): string {
  try {
    const { pathname } = new URL(text);
    return /^\/(.*\/)?(instruments|kit)\/[^/]+$/.test(pathname)
      ? pathname.slice(pathname.search(/\/(instruments|kit)\//))
      : "";
  } catch {
    return "";
  }
}

/** Looks for the code of a label in what the camera sees; nothing of it leaves the device. */
export default function Scanner({ onFound, onClose }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [said, setSaid] = useState("Hold the code of a label before the camera.");
  useEffect(() => {
    let stream: MediaStream | null = null;
    let over = false;
    const canvas = document.createElement("canvas");
    const look = () => {
      const seen = video.current;
      const draw = canvas.getContext("2d", { willReadFrequently: true });
      if (!seen?.videoWidth || !draw) return;
      canvas.width = seen.videoWidth;
      canvas.height = seen.videoHeight;
      draw.drawImage(seen, 0, 0);
      const { data, width, height } = draw.getImageData(0, 0, canvas.width, canvas.height);
      const code = jsQR(data, width, height, { inversionAttempts: "dontInvert" });
      if (!code) return;
      const place = placeOf(code.data);
      if (place) onFound(place);
      else setSaid("That is the code of something else. Hold a label of this site.");
    };
    const timer = setInterval(look, 200);
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: "environment" } })
      .then((opened) => {
        stream = opened;
        if (over) opened.getTracks().forEach((track) => track.stop());
        else if (video.current) video.current.srcObject = opened;
      })
      .catch(() => setSaid("The camera cannot be used here. Type the tag instead."));
    return () => {
      over = true;
      clearInterval(timer);
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, [onFound]);
  return (
    <div className="grid gap-3">
      <video
        ref={video}
        autoPlay
        muted
        playsInline
        aria-label="What the camera sees"
        className="max-h-[50vh] w-full rounded-xl bg-black object-cover"
      />
      <p role="status">{said}</p>
      <Button onClick={onClose}>Type instead</Button>
    </div>
  );
}
