/** A page with its heading and what belongs beside it. */
export function Page({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <main className="mx-auto max-w-[1180px] px-5 py-5">
      <header className="mb-4 flex flex-wrap items-end gap-x-6 gap-y-2">
        <h1 className="text-[28px] leading-tight font-semibold">{title}</h1>
        {aside}
      </header>
      {children}
    </main>
  );
}
