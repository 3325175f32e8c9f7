/**
 * @jest-environment jsdom
 */
// Fields of the planners: read on every key, complain in words, written back tidied when left; nothing typed is lost.
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import type { FieldProblem } from '@blendrak/core/plan';
import { useUnits } from '../units';
import { ChoiceField, FiniteLengthField, FNumberField, LengthField, NumberField, ShutterField } from './fields';

afterEach(() => {
  cleanup();
  useUnits.setState({ units: {} });
});

const field = (name: string): HTMLInputElement => screen.getByLabelText(name);
const type = (name: string, text: string): void => void fireEvent.change(field(name), { target: { value: text } });

describe('a length', () => {
  function Length({ start = 350, endless = false, seen = (_: number | null) => undefined as void }) {
    const [value, setValue] = useState<number | null>(start);
    return (
      <LengthField
        label="Farthest point"
        path="farthestMm"
        usual="cm"
        endless={endless}
        value={value}
        problems={[]}
        onChange={(mm) => {
          seen(mm);
          setValue(mm);
        }}
      />
    );
  }

  it('is read in whatever unit it is typed, and shown in that from then on', () => {
    const seen: (number | null)[] = [];
    render(<Length seen={(mm) => void seen.push(mm)} />);
    expect(field('Farthest point').value).toBe('35 cm');
    type('Farthest point', '1.2 m');
    expect(seen.at(-1)).toBe(1200);
    // While it is typed nothing is tidied.
    expect(field('Farthest point').value).toBe('1.2 m');
    fireEvent.blur(field('Farthest point'));
    expect(field('Farthest point').value).toBe('1.2 m');
    cleanup();
    render(<Length start={800} />);
    expect(field('Farthest point').value).toBe('0.8 m');
  });

  it('takes infinity only where there can be one', () => {
    const seen: (number | null)[] = [];
    const { rerender } = render(<Length endless seen={(mm) => void seen.push(mm)} />);
    type('Farthest point', 'infinity');
    expect(seen).toEqual([null]);
    rerender(<Length key="finite" seen={(mm) => void seen.push(mm)} />);
    type('Farthest point', 'infinity');
    expect(seen).toEqual([null]);
    expect(screen.getByText(/infinity cannot be read/)).toBeTruthy();
  });

  it('that cannot be read stays to be mended, says what is accepted, and Escape gives the old one back', () => {
    const seen: (number | null)[] = [];
    render(<Length seen={(mm) => void seen.push(mm)} />);
    type('Farthest point', 'arm’s length');
    fireEvent.blur(field('Farthest point'));
    expect(field('Farthest point').value).toBe('arm’s length');
    expect(field('Farthest point').getAttribute('aria-invalid')).toBe('true');
    expect(screen.getByText(/arm’s length cannot be read. A length such as 35 cm/)).toBeTruthy();
    expect(seen).toEqual([]);
    fireEvent.keyDown(field('Farthest point'), { key: 'Escape' });
    expect(field('Farthest point').value).toBe('35 cm');
  });

  it('of nothing is said to be nothing', () => {
    render(<FiniteLengthField label="Depth" path="d" usual="mm" value={5} problems={[]} onChange={() => undefined} />);
    type('Depth', ' ');
    expect(screen.getByText(/^nothing cannot be read/)).toBeTruthy();
  });
});

it.each([
  ['1/125', 1 / 125],
  ['0.8 s', 0.8],
  ['2"', 2],
])('a time of %s is read', (text, seconds) => {
  const seen: number[] = [];
  render(
    <ShutterField label="Exposure" path="exposureS" value={1} problems={[]} onChange={(s) => void seen.push(s)} />,
  );
  type('Exposure', text);
  expect(seen[0]).toBeCloseTo(seconds, 9);
});

it('an f-number is read with or without its f', () => {
  const seen: number[] = [];
  render(<FNumberField label="Aperture" path="f" value={8} problems={[]} onChange={(n) => void seen.push(n)} />);
  type('Aperture', 'f/5.6');
  type('Aperture', '11');
  expect(seen).toEqual([5.6, 11]);
});

describe('a number', () => {
  const percent = (seen: number[]) => (
    <NumberField
      label="Overlap"
      path="overlap"
      unit="%"
      scale={100}
      value={0.25}
      problems={[]}
      onChange={(v) => void seen.push(v)}
    />
  );

  it('is shown in its unit and kept as a share; a comma is a point, a typed minus a minus', () => {
    const seen: number[] = [];
    render(percent(seen));
    expect(field('Overlap').value).toBe('25 %');
    for (const text of ['30', '33,5 %', '−5', '.5']) type('Overlap', text);
    expect(seen.map((v) => Number(v.toFixed(6)))).toEqual([0.3, 0.335, -0.05, 0.005]);
  });

  it('in another unit is refused, not misread', () => {
    const seen: number[] = [];
    render(percent(seen));
    type('Overlap', '3 mm');
    expect(seen).toEqual([]);
    expect(screen.getByText('3 mm cannot be read. A number of % is accepted.')).toBeTruthy();
  });
});

it('problems of the plan stand at their field: an error marks it, a warning does not', () => {
  const at = (problems: readonly FieldProblem[]) => (
    <NumberField
      label="ISO"
      path="iso"
      unit=""
      value={100}
      problems={problems}
      help="base"
      onChange={() => undefined}
    />
  );
  const { rerender } = render(at([{ field: 'fNumber', severity: 'error', message: 'not this one' }]));
  expect(screen.getByText('base')).toBeTruthy();
  rerender(at([{ field: 'iso', severity: 'warning', message: 'noisy' }]));
  expect(screen.getByText('noisy')).toBeTruthy();
  expect(field('ISO').getAttribute('aria-invalid')).toBe('false');
  rerender(at([{ field: 'iso', severity: 'error', message: 'from 1 is accepted' }]));
  expect(field('ISO').getAttribute('aria-invalid')).toBe('true');
});

it('one of a few is chosen by name', () => {
  const seen: string[] = [];
  render(
    <ChoiceField
      label="Moves by"
      value="focus"
      options={[
        ['focus', 'focusing'],
        ['rail', 'a rail'],
      ]}
      onChange={(v) => void seen.push(v)}
    />,
  );
  fireEvent.mouseDown(screen.getByLabelText('Moves by'));
  fireEvent.click(screen.getByRole('option', { name: 'a rail' }));
  expect(seen).toEqual(['rail']);
});
