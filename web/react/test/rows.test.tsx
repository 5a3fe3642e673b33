// @vitest-environment jsdom
import { OpenForm, Service, type Description } from 'nodley-page';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { useField, useRows } from '../src';

const text = { control: 'text', tidy: { trim: true } } as const;
const description = {
  form: 'boat',
  language: 'en',
  words: {},
  fields: [
    {
      name: 'crew',
      type: 'rows',
      control: 'rows',
      label: 'Crew',
      required: false,
      say: {},
      fields: [
        {
          ...text,
          name: 'name',
          type: 'text',
          label: 'Name',
          required: true,
          say: { 'value-missing': 'Name is required.' },
        },
        { ...text, name: 'rank', type: 'text', label: 'Rank', required: false, say: {} },
        {
          name: 'home',
          type: 'group',
          control: 'group',
          label: 'Home',
          required: false,
          say: {},
          fields: [
            { ...text, name: 'port', type: 'text', label: 'Port', required: false, say: {} },
          ],
        },
      ],
    },
  ],
} as unknown as Description;

/** Rows as docs/page.md draws them. */
function Crew({ opened }: { opened: OpenForm }) {
  const crew = useRows(opened, 'crew');
  return (
    <fieldset>
      {crew.rows.map((row) => (
        <div key={row.key} className="row">
          <Text opened={opened} name={row.name('name')} />
          <Text opened={opened} name={row.name('home.port')} />
          <button className="remove" onClick={row.remove} />
          <button className="raise" onClick={row.raise} />
        </div>
      ))}
      <button className="add" onClick={crew.add} />
    </fieldset>
  );
}

function Text({ opened, name }: { opened: OpenForm; name: string }) {
  const field = useField(opened, name);
  return (
    <label>
      {field.field.label}
      <input
        name={name}
        value={String(field.value ?? '')}
        onChange={(event) => field.set(event.target.value)}
        onBlur={field.leave}
      />
      <span>{field.error?.detail}</span>
    </label>
  );
}

let root: Root;
let opened: OpenForm;

beforeEach(() => {
  (globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;
  document.body.innerHTML = '<main></main>';
  root = createRoot(document.querySelector('main')!);
});

afterEach(() => {
  act(() => root.unmount());
  opened.close();
});

function draw(values: object, mode: 'add' | 'edit' = 'add') {
  opened = new OpenForm(description, {
    mode,
    values: values as never,
    service: new Service('http://127.0.0.1:1'),
  });
  act(() => root.render(<Crew opened={opened} />));
}

const press = (selector: string) =>
  act(() => document.querySelector<HTMLButtonElement>(selector)!.click());
const names = () => [...document.querySelectorAll('input')].map((it) => it.name);
const values = () => [...document.querySelectorAll('input')].map((it) => it.value);

it('gives a blank row its fields at once', () => {
  draw({});
  expect(names()).toEqual([]);
  press('.add');
  expect(names()).toEqual(['crew[0].name', 'crew[0].home.port']);
  expect(Object.keys(opened.state().fields)).toEqual([
    'crew',
    'crew[0].name',
    'crew[0].rank',
    'crew[0].home',
    'crew[0].home.port',
  ]);
  expect(opened.state().fields['crew[0].name']!.field.label).toBe('Name');
  expect(opened.state().fields['crew[0].name']!.required).toBe(false);
  act(() => opened.set('crew[0].home.port', 'Ax'));
  act(() => opened.leave('crew[0].name'));
  expect(document.querySelector('span')!.textContent).toBe('Name is required.');
  expect(opened.state().fields['crew[0].name']!.required).toBe(true);
});

it('leaves what a blank row has as it was while something else changes', () => {
  draw({});
  press('.add');
  press('.add');
  const blank = opened.state().fields['crew[1].name'];
  act(() => opened.set('crew[0].name', 'Ann'));
  expect(opened.state().fields['crew[1].name']).toBe(blank);
});

it('moves and removes rows with what is in them', () => {
  draw({ crew: [{ name: 'Ann' }, { name: 'Bob' }, { name: 'Cy' }] });
  press('.row:nth-of-type(3) .raise');
  expect(values()).toEqual(['Ann', '', 'Cy', '', 'Bob', '']);
  press('.row:nth-of-type(1) .raise');
  press('.row:nth-of-type(1) .remove');
  expect(values()).toEqual(['Cy', '', 'Bob', '']);
});

it('keeps the key of a kept row wherever it goes', () => {
  let keys: string[] = [];
  function Keys() {
    keys = useRows(opened, 'crew').rows.map((row) => row.key);
    return null;
  }
  draw(
    {
      crew: [
        { name: 'Ann', _row: 7 },
        { name: 'Bob', _row: 9 },
      ],
    },
    'edit',
  );
  act(() => root.render(<Keys />));
  expect(keys).toEqual(['kept 7', 'kept 9']);
  act(() => opened.addRow('crew'));
  act(() => opened.raiseRow('crew', 1));
  expect(keys).toEqual(['kept 9', 'kept 7', 'new 2']);
});
