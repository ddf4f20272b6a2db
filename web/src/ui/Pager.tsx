import { Button } from "./Button";

type Props = { page: number; pages: number; total: string; onPage: (page: number) => void };

/** How many there are, and the pages of a list. */
export function Pager({ page, pages, total, onPage }: Props) {
  return (
    <nav aria-label="Pages" className="mt-3 flex flex-wrap items-center gap-3">
      <span className="digits text-muted">{total}</span>
      {pages > 1 && (
        <>
          <Button disabled={page <= 1} onClick={() => onPage(page - 1)}>
            Before
          </Button>
          <span className="digits text-muted">
            {page} of {pages}
          </span>
          <Button disabled={page >= pages} onClick={() => onPage(page + 1)}>
            Next
          </Button>
        </>
      )}
    </nav>
  );
}
