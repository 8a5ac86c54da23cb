/** Tools in the tray are told apart at a glance. */
import { Diamond } from 'lucide-react';
import { expect, it } from 'vitest';
import { COMMANDS } from '../src/commands/commands';
import { shortTitle } from '../src/state/command';
import { iconOf } from '../src/views/bench/ToolIcon';

for (const level of ['face', 'edge', 'point'] as const)
  it(`tools at ${level} level have icons and names of their own`, () => {
    const tools = COMMANDS.filter((c) => c.card?.includes(level));
    expect(tools.length).toBeGreaterThan(20);
    expect(tools.filter((c) => iconOf(c.id) === Diamond).map((c) => c.id)).toEqual([]);
    expect(new Set(tools.map((c) => iconOf(c.id))).size).toBe(tools.length);
    expect(new Set(tools.map(shortTitle)).size).toBe(tools.length);
  });
