/** The way to the next page of a list; nothing at its end. */
export function More({ list }: { list: { more: boolean; showMore: () => Promise<void>; trouble: string } }) {
  if (!list.more) return null;
  return (
    <div className="mt-3">
      <button type="button" className="btn touch w-full" onClick={() => void list.showMore()}>
        Show more
      </button>
      {list.trouble && <p role="alert">{list.trouble}</p>}
    </div>
  );
}
