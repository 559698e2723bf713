import { type QueryKey, useInfiniteQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";

interface Page<T> {
  count: number;
  results: T[];
}

export interface Pages<T, P extends Page<T> = Page<T>> {
  /** The first page, with whatever else it says. */
  first: P | undefined;
  /** What has been asked for so far, the newest first; undefined before the first answer. */
  all: T[] | undefined;
  count: number;
  /** Ask for the next page; null where all is there. */
  more: (() => void) | null;
}

/** The pages of a list in the cache, as `changed` may be told. */
export interface CachedPages<T> {
  pages: Page<T>[];
  pageParams: unknown[];
}

/** A list that comes by pages: the first at once, each further one when it is asked for. */
export function usePages<T, P extends Page<T> = Page<T>>(
  key: QueryKey,
  ask: (page: number) => Promise<P & Page<T>>,
): Pages<T, P> {
  const { data, hasNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => ask(pageParam),
    initialPageParam: 1,
    getNextPageParam: (last, pages) => {
      const shown = pages.reduce((sum, page) => sum + page.results.length, 0);
      return shown < last.count && last.results.length > 0 ? pages.length + 1 : undefined;
    },
  });
  return {
    first: data?.pages[0],
    all: data?.pages.flatMap((page) => page.results),
    count: data?.pages[0]?.count ?? 0,
    more: hasNextPage ? () => void fetchNextPage() : null,
  };
}

/** The same pages with every one of their things put through a change. */
export function inPages<T>(
  cached: CachedPages<T> | undefined,
  change: (one: T) => T,
): CachedPages<T> | undefined {
  return (
    cached && {
      ...cached,
      pages: cached.pages.map((page) => ({ ...page, results: page.results.map(change) })),
    }
  );
}

/** Asks for more of a list, where there is more. */
export function More<T>({ pages, what }: { pages: Pages<T>; what: string }) {
  if (!pages.more) return null;
  return (
    <p>
      <Button size="sm" variant="outline-secondary" onClick={pages.more}>
        More {what}: {pages.all?.length} of {pages.count} are shown
      </Button>
    </p>
  );
}

interface PagerProps {
  page: number;
  pages: number;
  label: string;
  onPage: (page: number) => void;
}

/** Before and after, through a list that shows one page at a time. */
export function Pager({ page, pages, label, onPage }: PagerProps) {
  if (pages <= 1) return null;
  return (
    <nav aria-label={label} className="pages">
      <Button variant="outline-secondary" disabled={page <= 1} onClick={() => onPage(page - 1)}>
        Before
      </Button>
      <span>
        {page} of {pages}
      </span>
      <Button variant="outline-secondary" disabled={page >= pages} onClick={() => onPage(page + 1)}>
        After
      </Button>
    </nav>
  );
}
