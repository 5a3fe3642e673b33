import type { Option } from '../description';

/** After the last key the options are looked up once so many milliseconds are over. */
const PAUSE = 150;

/** So many options are listed at once. */
const MOST = 50;

/**
 * Makes a search box of a select: a text input that lists what fits (the combobox pattern of the
 * WAI-ARIA practices). The select stays in the page, unseen, and holds the value.
 */
export function search(
  select: HTMLSelectElement,
  /** What fits some words; of thousands, the service's first ones. */
  find: (words: string) => Promise<Option[]>,
  /** How many were found, in words. */
  found: (count: number) => string,
): () => void {
  const input = document.createElement('input');
  const list = document.createElement('ul');
  const status = document.createElement('span');
  const { id } = select;
  select.id = `${id}-value`;
  Object.assign(input, {
    id,
    className: select.className,
    type: 'text',
    autocomplete: 'off',
    placeholder: select.dataset.search ?? '',
  });
  list.id = `${id}-list`;
  list.hidden = true;
  list.className = 'offers';
  status.className = 'unseen';
  const set = (element: Element, attributes: Record<string, string>) =>
    Object.entries(attributes).forEach(([name, value]) => element.setAttribute(name, value));
  set(input, {
    role: 'combobox',
    'aria-autocomplete': 'list',
    'aria-expanded': 'false',
    'aria-controls': list.id,
  });
  const label = select.form!.querySelector(`label[for="${id}"]`);
  set(list, { role: 'listbox', 'aria-label': label?.firstChild?.textContent?.trim() ?? id });
  set(status, { role: 'status' });
  const copied = ['aria-describedby', 'aria-invalid', 'required', 'disabled'];
  const mirror = () => {
    for (const name of copied) {
      const value = select.getAttribute(name);
      if (value === null) {
        input.removeAttribute(name);
      } else {
        input.setAttribute(name, value);
      }
    }
  };
  let options: Option[] = [];
  let active = -1;
  let turn = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const chosen = () => (select.value ? (select.selectedOptions[0]?.text ?? '') : '');
  const close = () => {
    turn++;
    clearTimeout(timer);
    list.hidden = true;
    active = -1;
    input.setAttribute('aria-expanded', 'false');
    input.removeAttribute('aria-activedescendant');
    status.textContent = '';
  };
  const choose = (option: Option | undefined) => {
    const value = option?.value ?? '';
    if (option && ![...select.options].some((it) => it.value === value)) {
      select.append(new Option(option.label, value));
    }
    select.value = value;
    input.value = chosen();
    close();
    select.dispatchEvent(new Event('change', { bubbles: true }));
  };
  const mark = (index: number) => {
    active = index;
    [...list.children].forEach((it, i) => it.setAttribute('aria-selected', String(i === index)));
    const item = list.children[index];
    input.toggleAttribute('aria-activedescendant', Boolean(item));
    if (item) {
      input.setAttribute('aria-activedescendant', item.id);
      item.scrollIntoView({ block: 'nearest' });
    }
  };
  const look = async (words: string) => {
    const mine = ++turn;
    const all = await find(words).catch(() => []);
    if (mine !== turn) {
      return; // What is typed has changed since.
    }
    options = all.slice(0, MOST);
    list.replaceChildren(
      ...options.map((option, index) => {
        const item = document.createElement('li');
        item.id = `${list.id}-${index}`;
        set(item, { role: 'option', 'aria-selected': 'false' });
        item.textContent = option.label;
        return item;
      }),
    );
    list.hidden = !options.length;
    input.setAttribute('aria-expanded', String(!list.hidden));
    status.textContent = found(options.length);
    mark(-1);
  };
  input.addEventListener('input', (event) => {
    event.stopPropagation();
    clearTimeout(timer);
    if (!input.value.trim()) {
      choose(undefined);
    }
    timer = setTimeout(() => void look(input.value.trim()), PAUSE);
  });
  input.addEventListener('change', (event) => event.stopPropagation());
  input.addEventListener('keydown', (event) => {
    const { key } = event;
    const step = { ArrowDown: 1, ArrowUp: -1 }[key];
    if (step && list.hidden) {
      event.preventDefault();
      void look(input.value === chosen() ? '' : input.value.trim());
    } else if (step) {
      event.preventDefault();
      mark((active + step + options.length + (active < 0 && step < 0 ? 1 : 0)) % options.length);
    } else if (key === 'Enter' && active >= 0) {
      event.preventDefault();
      choose(options[active]);
    } else if (key === 'Escape' && !list.hidden) {
      event.preventDefault();
      input.value = chosen();
      close();
    }
  });
  // Pressing the mouse must not take the focus away before what is pressed is chosen.
  list.addEventListener('mousedown', (event) => event.preventDefault());
  list.addEventListener('click', (event) => {
    const index = [...list.children].indexOf((event.target as Element).closest('li')!);
    choose(options[index]);
  });
  input.addEventListener('blur', (event) => {
    close();
    input.value = chosen();
    select.dispatchEvent(new FocusEvent('blur', { relatedTarget: event.relatedTarget }));
  });
  select.hidden = true;
  select.tabIndex = -1;
  select.focus = () => input.focus();
  select.before(input, list, status);
  const follow = () => {
    if (document.activeElement !== input) {
      input.value = chosen();
    }
  };
  follow();
  mirror();
  new MutationObserver(() => {
    mirror();
    follow();
  }).observe(select, { attributes: true, childList: true });
  return follow;
}
