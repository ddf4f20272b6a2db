import { useEffect, useRef, useState } from "react";

/** The size of an element, kept up to date; a picture is drawn to fill it. */
export function useSize<T extends Element>(width: number, height: number) {
  const ref = useRef<T>(null);
  const [size, setSize] = useState({ width, height });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const { width: w, height: h } = entry.contentRect;
      if (w > 40 && h > 40) setSize({ width: w, height: h });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return { ref, ...size };
}
