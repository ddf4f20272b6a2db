const KEY = "bench.recent";

/** The calculators used last, newest first. */
export function recent(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(kept) ? kept.filter((n): n is string => typeof n === "string") : [];
  } catch {
    return [];
  }
}

export function remember(name: string) {
  const names = [name, ...recent().filter((n) => n !== name)].slice(0, 6);
  localStorage.setItem(KEY, JSON.stringify(names));
}
