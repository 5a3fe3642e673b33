/** What is dragged: rows side by side, and what moves one of them to another place. */
export interface Draggable {
  rows: HTMLElement[];
  move: (from: number, to: number) => void;
}

/**
 * Rows are dragged by their numbers, with a mouse, a pen or a finger; the buttons beside them do
 * the same for the keyboard. Escape leaves a row where it was.
 *
 * @param find what a grip belongs to; nothing if its rows cannot be moved
 */
export function drag(
  form: HTMLFormElement,
  find: (grip: HTMLElement) => Draggable | undefined,
): void {
  form.addEventListener('pointerdown', (down) => {
    const grip = (down.target as Element).closest<HTMLElement>('legend, [data-grip]');
    const dragged = grip && down.button === 0 ? find(grip) : undefined;
    if (!grip || !dragged) {
      return;
    }
    const { rows, move } = dragged;
    const from = rows.findIndex((row) => row.contains(grip));
    const row = rows[from]!;
    let to = from;
    const follow = (event: PointerEvent) => {
      const y = event.clientY;
      row.style.translate = `0 ${y - down.clientY}px`;
      to = rows.filter((it) => it !== row && middle(it) < y).length;
      rows.forEach((it, i) => {
        it.toggleAttribute('data-before', i === to && to < from);
        it.toggleAttribute('data-after', i === to && to > from);
      });
    };
    const end = () => {
      watched.abort();
      row.style.translate = '';
      delete row.dataset.dragged;
      rows.forEach((it) => ['before', 'after'].forEach((end) => delete it.dataset[end]));
    };
    const watched = new AbortController();
    const { signal } = watched;
    // Text is not marked on the way, and a finger does not move the page.
    down.preventDefault();
    grip.setPointerCapture(down.pointerId);
    row.dataset.dragged = '';
    grip.addEventListener('pointermove', follow, { signal });
    grip.addEventListener('pointercancel', end, { signal });
    grip.addEventListener(
      'pointerup',
      () => {
        end();
        if (to !== from) {
          move(from, to);
        }
      },
      { signal },
    );
    const escape = (event: KeyboardEvent) => event.key === 'Escape' && end();
    document.addEventListener('keydown', escape, { signal });
  });
}

function middle(row: HTMLElement): number {
  const { top, height } = row.getBoundingClientRect();
  return top + height / 2;
}
