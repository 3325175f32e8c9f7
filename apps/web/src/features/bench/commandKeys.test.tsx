/**
 * @jest-environment jsdom
 */
// The bench's keys: when they call their commands, and when they leave the key to what has the focus.
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { bindCommands } from '../../shared/commands/keys';
import { useCommandKeys } from '../../shared/commands/useCommandKeys';
import { COMMANDS } from './commands';

afterEach(cleanup);

describe('keys', () => {
  const calls: string[] = [];
  const actions = Object.keys(COMMANDS).map((id) => [id, (pressed: boolean) => void calls.push(`${id} ${pressed}`)]);
  const commands = bindCommands(COMMANDS, Object.fromEntries(actions) as Parameters<typeof bindCommands>[1]);
  function Screen({ enabled = true }: { readonly enabled?: boolean }) {
    useCommandKeys(commands, enabled);
    return (
      <>
        <input type="text" aria-label="Reason" />
        <input type="range" aria-label="Size" />
        <button type="button">Patch</button>
      </>
    );
  }
  beforeEach(() => calls.splice(0));

  it('work while a button or a slider has the focus, and not while text is typed', () => {
    render(<Screen />);
    fireEvent.keyDown(screen.getByRole('button'), { key: 'n' });
    fireEvent.keyDown(screen.getByRole('slider'), { key: 'm' });
    fireEvent.keyDown(screen.getByRole('textbox'), { key: 'u' });
    expect(calls).toEqual(['next true', 'marks true']);
  });

  it('that cannot be called now do nothing, but stay their commands’', () => {
    const off = { ...commands, next: { ...commands['next']!, isEnabled: false } };
    function Off() {
      useCommandKeys(off);
      return <button type="button">Patch</button>;
    }
    render(<Off />);
    expect(fireEvent.keyDown(screen.getByRole('button'), { key: 'n' })).toBe(false);
    expect(calls).toEqual([]);
  });

  it('that what has the focus answers itself are left to it', () => {
    render(
      <>
        <Screen />
        <div role="listbox" tabIndex={0} onKeyDown={(event) => event.preventDefault()} />
      </>,
    );
    fireEvent.keyDown(screen.getByRole('listbox'), { key: 'n' });
    expect(calls).toEqual([]);
  });

  it('held ones are let go once: on release, when the window loses the focus, when something lies over the screen', () => {
    const { rerender } = render(<Screen />);
    const down = (): boolean => fireEvent.keyDown(document.body, { key: 'q', code: 'KeyQ' });
    down();
    fireEvent.keyDown(document.body, { key: 'q', code: 'KeyQ', repeat: true });
    fireEvent.keyUp(document.body, { key: 'Q', code: 'KeyQ', shiftKey: true });
    down();
    fireEvent.blur(window);
    fireEvent.keyUp(document.body, { key: 'q', code: 'KeyQ' });
    down();
    rerender(<Screen enabled={false} />);
    down();
    expect(calls).toEqual([
      'peek-before true',
      'peek-before false',
      'peek-before true',
      'peek-before false',
      'peek-before true',
      'peek-before false',
    ]);
  });
});
