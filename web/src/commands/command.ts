/** What a command is: its name, when it can act, and what it does. */
export interface Command {
  id: string;
  title: string;
  group: 'Add' | 'Piece' | 'Build' | 'View' | 'Look' | 'Tool' | 'History' | 'Pick' | 'Edit';
  /** At which level it can act; at any, if not said. */
  when?: 'pieces' | 'elements';
  enabled?: () => boolean;
  run: () => void;
}
