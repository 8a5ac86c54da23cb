/** The scene's history: every action, searched and gone to with a click, and the milestones. */
import { useCallback, useState } from 'react';
import { Tabs } from 'radix-ui';
import { Box } from '../../ui/Box';
import { ActionList } from './ActionList';
import type { Attempt } from './attempt';
import { MilestoneList } from './MilestoneList';

export function HistoryBox({ onClose }: { onClose: () => void }) {
  const [fault, setFault] = useState('');
  const attempt: Attempt = useCallback(async (act) => {
    try {
      setFault('');
      await act();
    } catch (e) {
      setFault((e as Error).message);
    }
  }, []);
  return (
    <Box title="History" onClose={onClose}>
      <Tabs.Root defaultValue="actions">
        <Tabs.List className="mb-2 flex gap-1 border-b border-b-line px-3 pb-2" aria-label="History">
          <Tabs.Trigger className="data-[state=active]:bg-ink-3" value="actions">
            Actions
          </Tabs.Trigger>
          <Tabs.Trigger className="data-[state=active]:bg-ink-3" value="milestones">
            Milestones
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value="actions">
          <ActionList attempt={attempt} />
        </Tabs.Content>
        <Tabs.Content value="milestones">
          <MilestoneList attempt={attempt} />
        </Tabs.Content>
      </Tabs.Root>
      {fault && (
        <p className="faultBox" role="alert">
          {fault}
        </p>
      )}
    </Box>
  );
}
