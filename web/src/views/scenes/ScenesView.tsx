/** Scenes: the library of scenes as cards. */
import { useDeferredValue, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { DropdownMenu } from 'radix-ui';
import { FileButton } from '../../ui/FileButton';
import { FileInput, MoreHorizontal, Plus, Search } from 'lucide-react';
import {
  useCreateSceneMutation,
  useDeleteSceneMutation,
  useDuplicateSceneMutation,
  useImportSceneMutation,
  useRenameSceneMutation,
  useRestoreSceneMutation,
  useScenesQuery,
} from '../../api/scenesApi';
import { FORMATS, formatOf, READ } from '@urnsmith/core/formats/index';
import type { SceneCard } from '@urnsmith/core/document/scene';
import type { ApiFault } from '../../api/types';
import { Mark } from '../../ui/Mark';
import { NameField } from '../../ui/NameField';
import { grouped } from '../../ui/grouped';

interface Message {
  text: string;
  problem?: boolean;
  undo?: () => void;
}

export function ScenesView() {
  const [search, setSearch] = useState('');
  const {
    data: scenes,
    isError,
    refetch,
  } = useScenesQuery(useDeferredValue(search), { refetchOnMountOrArgChange: true });
  const [message, setMessage] = useState<Message | null>(null);
  const [create] = useCreateSceneMutation();
  const navigate = useNavigate();
  useEffect(() => {
    const missing = scenes?.filter((s) => !s.hasThumbnail && s.pieces > 0);
    if (!missing?.length) return;
    let stop = (): void => {};
    let left = false;
    // Drawing takes all of the stage's code, which the list itself does without.
    void import('./pictures').then(({ pictureMissing }) => {
      if (!left) stop = pictureMissing(missing, () => void refetch());
    });
    return () => {
      left = true;
      stop();
    };
  }, [scenes, refetch]);
  const newScene = async (): Promise<void> => {
    const names = new Set(scenes?.map((s) => s.name));
    let name = 'New scene';
    for (let k = 2; names.has(name); k++) name = `New scene ${k}`;
    const made = await create({ name }).unwrap();
    void navigate(`/scene/${made.id}/bench`);
  };
  return (
    <div className="scaled grid h-full grid-rows-[40px_1fr]">
      <header className="flex h-10 min-w-0 items-center gap-3.5 border-b border-b-line bg-ink-1 px-3">
        <div className="flex p-1 text-glaze">
          <Mark />
        </div>
        <h1 className="-ml-1.5 text-[14px] font-[650]">Urnsmith</h1>
        <div className="ml-auto flex min-w-0 flex-none items-center gap-1.5">
          <label className="searchBox">
            <Search size={14} aria-hidden />
            <input
              type="search"
              placeholder="Find a scene"
              aria-label="Find a scene"
              value={search}
              onChange={(e) => setSearch(e.currentTarget.value)}
            />
          </label>
          <ImportButton onMessage={setMessage} />
          <button className="btn whitespace-nowrap" onClick={() => void newScene()}>
            <Plus size={14} aria-hidden /> New scene
          </button>
        </div>
      </header>
      <main className="overflow-auto bg-[radial-gradient(100%_70%_at_50%_0,var(--color-ink-2),var(--color-ink-0))] px-[26px] py-[22px]">
        {isError && (
          <p className="faultBox" role="alert">
            The server cannot be reached. <button onClick={() => void refetch()}>Try again</button>
          </p>
        )}
        <ul
          className="mx-auto grid max-w-[1300px] grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-[18px]"
          aria-label="Scenes"
        >
          {scenes?.map((s) => (
            <Card key={s.id} scene={s} onMessage={setMessage} />
          ))}
        </ul>
        {scenes?.length === 0 && (
          <p className="p-20 text-center text-ash">
            {search
              ? `No scene is called “${search}”.`
              : 'No scenes yet. Start one, or import an OBJ or scene file.'}
          </p>
        )}
      </main>
      <div className="notices" role="status">
        {message && (
          <div className={message.problem ? 'notice problem' : 'notice'}>
            <span>{message.text}</span>
            {message.undo && (
              <button
                onClick={() => {
                  message.undo!();
                  setMessage(null);
                }}
              >
                Undo
              </button>
            )}
            <button aria-label="Close message" onClick={() => setMessage(null)}>
              ✕
            </button>
          </div>
        )}
      </div>
    </div>
  );
}

const SCENE_FILE = 'application/vnd.urnsmith.scene+zip';

function ImportButton({ onMessage }: { onMessage: (m: Message) => void }) {
  const [importScene, { isLoading }] = useImportSceneMutation();
  const navigate = useNavigate();
  const take = async (file: File): Promise<void> => {
    try {
      const format = formatOf(file.name);
      const type = format ? FORMATS[format].media : SCENE_FILE;
      const name = file.name.replace(/(\.urn)?\.[^.]+$/i, '');
      const made = await importScene({ name, file, type }).unwrap();
      void navigate(`/scene/${made.id}/bench`);
    } catch (e) {
      const fault = (e as { data?: ApiFault }).data;
      onMessage({
        text: `${file.name} was not imported. ${fault?.message ?? 'The server cannot be reached.'} ${fault?.fix ?? ''}`,
        problem: true,
      });
    }
  };
  return (
    <FileButton
      label={`${READ.join(', ').toUpperCase()} or scene file`}
      accept={[...READ, 'zip'].map((e) => `.${e}`).join()}
      disabled={isLoading}
      onFile={(f) => void take(f)}
    >
      <FileInput size={14} aria-hidden /> {isLoading ? 'Importing…' : 'Import'}
    </FileButton>
  );
}

function Card({ scene, onMessage }: { scene: SceneCard; onMessage: (m: Message) => void }) {
  const [editing, setEditing] = useState(false);
  const [rename] = useRenameSceneMutation();
  const [duplicate] = useDuplicateSceneMutation();
  const [remove] = useDeleteSceneMutation();
  const [restore] = useRestoreSceneMutation();
  const navigate = useNavigate();
  const open = (): void => void navigate(`/scene/${scene.id}/bench`);
  return (
    <li
      className="sceneCard overflow-hidden rounded-[6px_6px_20px_20px] border border-t-[3px] border-line border-t-ash bg-ink-1 focus-within:border-glaze hover:border-glaze"
      data-scene={scene.id}
    >
      <button
        className="block w-full rounded-none bg-[#222c2c] p-0"
        onClick={open}
        aria-label={`Open ${scene.name}`}
      >
        {scene.hasThumbnail ? (
          <img
            src={`/api/scenes/${scene.id}/thumbnail?${scene.changed}-${scene.faces}`}
            alt=""
            className="block aspect-[480/300] h-auto w-full"
            width={480}
            height={300}
          />
        ) : (
          <span className="grid aspect-[480/300] place-items-center bg-[radial-gradient(120%_90%_at_50%_20%,#323f3f,#1a2324)] text-[#46605b] [&_svg]:size-11">
            <Mark />
          </span>
        )}
      </button>
      <div className="about grid grid-cols-[1fr_auto] items-center px-3.5 pt-[9px] pb-3 text-[13.5px] font-semibold">
        <NameField
          value={scene.name}
          label={`Name of ${scene.name}`}
          editing={editing}
          onDone={(name) => {
            setEditing(false);
            if (name) void rename({ id: scene.id, name });
          }}
        />
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className="quiet" aria-label={`More for ${scene.name}`}>
            <MoreHorizontal size={16} aria-hidden />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className="menu" align="end">
              <DropdownMenu.Item onSelect={open}>Open</DropdownMenu.Item>
              <DropdownMenu.Item onSelect={() => setTimeout(() => setEditing(true), 50)}>
                Rename
              </DropdownMenu.Item>
              <DropdownMenu.Item onSelect={() => void duplicate(scene.id)}>Duplicate</DropdownMenu.Item>
              <DropdownMenu.Item asChild>
                <a href={`/api/scenes/${scene.id}/file`} download>
                  Save as one file
                </a>
              </DropdownMenu.Item>
              <DropdownMenu.Separator />
              <DropdownMenu.Item
                onSelect={() => {
                  void remove(scene.id)
                    .unwrap()
                    .then(() =>
                      onMessage({ text: `Deleted ${scene.name}.`, undo: () => void restore(scene.id) }),
                    );
                }}
              >
                Delete
              </DropdownMenu.Item>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <p className="dim col-span-full flex text-[11.5px]">
          {scene.pieces} {scene.pieces === 1 ? 'piece' : 'pieces'}
          {scene.faces !== null && ` · ${grouped(scene.faces)} faces`}
          <time className="ml-auto" dateTime={new Date(scene.changed).toISOString()}>
            {when(scene.changed)}
          </time>
        </p>
      </div>
    </li>
  );
}

function when(t: number): string {
  const s = (Date.now() - t) / 1000;
  if (s < 60) return 'just now';
  if (s < 3600) return `${Math.round(s / 60)} min ago`;
  if (s < 86400) return `${Math.round(s / 3600)} h ago`;
  return new Date(t).toLocaleDateString('en', { day: 'numeric', month: 'short', year: 'numeric' });
}
