import { useEffect, useState } from "react";

/** The value once it has stood still for a moment; the first one at once. */
export function useLater<T>(value: T, milliseconds: number): T {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return later;
}
