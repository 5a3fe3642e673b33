// @vitest-environment jsdom
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import { notation } from '../src/notation';

/** The tables that the service reads too; English needs none of this. */
function table(name: string): string[][] {
  const file = resolve(import.meta.dirname, '../../../corpus/notation', `${name}.csv`);
  return readFileSync(file, 'utf8')
    .trimEnd()
    .split('\n')
    .slice(1)
    .map((line) => line.split(';'))
    .filter(([language]) => language !== 'en');
}

describe('numbers and dates in a language', () => {
  it.each(table('typed'))('%s: %s is %s', (language, typed, standard) => {
    expect(notation(language).standard(typed)).toBe(standard);
  });

  it.each(table('numbers'))('%s: %s is shown as %s', (language, number, shown, typed) => {
    const { shown: show, typed: type } = notation(language);
    expect(show(number, 'decimal')).toBe(shown);
    expect(type(number)).toBe(typed);
  });

  it.each(table('dates'))('%s: %s is shown as %s', (language, date, shown) => {
    expect(notation(language).shown(date, 'date')).toBe(shown);
  });

  it('takes what stands in a page of somebody else for standard form', () => {
    const form = document.createElement('form');
    form.innerHTML = '<input name="length" value="1.125"><input name="note" value="a.b">';
    const { standard } = notation('de', form);
    const [length, note] = form.querySelectorAll('input');
    expect(standard(length!.value)).toBe('1.125');
    expect(note!.value).toBe('a.b');
    const own = document.createElement('form');
    own.innerHTML = '<input name="_language" value="de"><input name="length" value="1.125">';
    const { standard: ours } = notation('de', own);
    expect(ours(own.querySelectorAll('input')[1]!.value)).toBe('1125');
  });
});
