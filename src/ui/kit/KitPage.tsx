'use client';
import { Trash2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import type { Key } from '@/core/harmony/keyNames';
import { Button, TextButton } from './Button';
import { Checkbox } from './Checkbox';
import { Chip, RemovableChip } from './Chip';
import { Labelled, TextArea, TextField } from './Field';
import { Fold, Group } from './Group';
import { IconButton, IconLink } from './IconButton';
import { KeyHint } from './KeyHint';
import { KeySelect } from './KeySelect';
import { NumberField } from './NumberField';
import { Overlay } from './Overlay';
import { Popup } from './Popup';
import { Progress } from './Progress';
import { SearchField } from './SearchField';
import { Segmented } from './Segmented';
import { Select } from './Select';
import { Slider } from './Slider';
import { Awaited, Empty, Loading } from './States';
import { Stepper } from './Stepper';
import { Tabs } from './Tabs';
import { Term } from './Term';
import { Toggle } from './Toggle';
import { WrittenField } from './WrittenField';

/** Every component of the kit in all its states, for developers. */
export function KitPage() {
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto grid max-w-5xl grid-cols-2 gap-x-10 gap-y-6 p-8 text-small">
        <h1 className="col-span-2 text-lg font-bold">Components</h1>
        <Buttons />
        <Fields />
        <Choices />
        <Openings />
        <States />
      </div>
    </div>
  );
}

function Shown({ name, use, children }: { name: string; use: string; children: ReactNode }) {
  return (
    <div className="border-b border-rule py-2">
      <p className="mb-1">
        <b>{name}</b> <span className="text-ink-soft">{use}</span>
      </p>
      <div className="flex flex-wrap items-center gap-2">{children}</div>
    </div>
  );
}

function Buttons() {
  const [isOn, setOn] = useState(true);
  const [count, setCount] = useState(4);
  return (
    <Group title="Buttons">
      <Shown name="Button" use="an action: a verb and, where needed, its object">
        <Button tone="strong">Main action</Button>
        <Button>Action</Button>
        <Button tone="quiet">Quiet</Button>
        <Button pressed>Pressed</Button>
        <Button disabled>Disabled</Button>
        <Button small>Small</Button>
        <TextButton>in running text</TextButton>
      </Shown>
      <Shown name="IconButton, IconLink" use="an action or a download as an icon">
        <IconButton label="Delete">
          <Trash2 aria-hidden />
        </IconButton>
        <IconButton label="Delete, pressed" pressed>
          <Trash2 aria-hidden />
        </IconButton>
        <IconButton label="Delete, disabled" disabled>
          <Trash2 aria-hidden />
        </IconButton>
        <IconLink label="Nothing to download">
          <Trash2 aria-hidden />
        </IconLink>
      </Shown>
      <Shown name="Toggle, Chip" use="on or off in a row; a tag or a filter">
        <Toggle label="Mute" pressed={isOn} onClick={() => setOn(!isOn)}>
          mute
        </Toggle>
        <Chip pressed={isOn} onPress={() => setOn(!isOn)}>
          tag
        </Chip>
        <Chip isProposed onPress={() => setOn(!isOn)}>
          suggested
        </Chip>
        <RemovableChip label="Remove word" onRemove={() => setOn(!isOn)}>
          word
        </RemovableChip>
      </Shown>
      <Shown name="Stepper, KeyHint" use="a whole number by two buttons; a key as it is printed">
        <Stepper label="Bars" value={count} onStep={(by) => setCount(count + by)} />
        <KeyHint>Ctrl + Z</KeyHint>
      </Shown>
    </Group>
  );
}

function Fields() {
  const [bpm, setBpm] = useState<number | null>(96);
  const [text, setText] = useState('Curtain Groove');
  return (
    <Group title="Fields">
      <Shown name="TextField, SearchField" use="text that counts while it is typed">
        <Labelled label="Name">
          <TextField value={text} onChange={(event) => setText(event.target.value)} />
        </Labelled>
        <Labelled label="Refused">
          <TextField aria-invalid defaultValue="???" />
        </Labelled>
        <SearchField label="Search" placeholder="search" value={text} onValue={setText} />
      </Shown>
      <Shown name="WrittenField, TextArea" use="text that counts when the field is left">
        <WrittenField label="Origin" value={text} onSet={setText} />
        <TextArea label="Note" maxLength={300} value={text} onSet={setText} />
      </Shown>
      <Shown name="NumberField" use="typed, stepped with ↑ ↓, dragged by its unit; live or when it is left">
        <NumberField
          label="Tempo"
          place="beside"
          unit="BPM"
          value={bpm}
          least={20}
          most={400}
          onValue={setBpm}
        />
        <NumberField
          label="Live"
          place="beside"
          unit="BPM"
          isLive
          placeholder="own"
          value={bpm}
          least={20}
          most={400}
          onValue={setBpm}
          onEmpty={() => setBpm(null)}
        />
        <NumberField label="Off" place="beside" disabled value={4} least={0} most={9} onValue={setBpm} />
      </Shown>
    </Group>
  );
}

const METERS = ['3/4', '4/4', '6/8'] as const;

function Choices() {
  const [isOn, setOn] = useState(true);
  const [meter, setMeter] = useState<(typeof METERS)[number]>('4/4');
  const [key, setKey] = useState<Key | null>({ tonic: 2, mode: 'minor' });
  const [share, setShare] = useState(0.5);
  return (
    <Group title="Choices">
      <Shown name="Checkbox" use="on or off, with more about it">
        <Checkbox label="Keep pickup" value={isOn} onValue={setOn} />
        <Checkbox label="Also" about="what that does" value={!isOn} onValue={(on) => setOn(!on)} />
        <Checkbox label="Off" value={false} disabled onValue={setOn} />
      </Shown>
      <Shown name="Select, KeySelect" use="one of several, from a list that opens">
        <Select label="Time signature" place="beside" value={meter} options={METERS} onChange={setMeter} />
        <Select
          label="Action"
          placeholder="Kind…"
          value={undefined}
          options={METERS}
          isOff={(one) => one === '3/4'}
          onChange={setMeter}
        />
        <KeySelect label="Key" none="no key" value={key} onChange={setKey} />
      </Shown>
      <Shown name="Segmented, Tabs" use="one of few, all in sight; which view is shown">
        <Segmented label="Counted in" value={meter} options={METERS} onChange={setMeter} />
        <Tabs label="Meters" value={meter} tabs={METERS} onChange={setMeter} />
      </Shown>
      <Shown name="Slider" use="a value on a line">
        <Slider
          label="Amount"
          min={0}
          max={1}
          value={share}
          text={(value) => `${Math.round(100 * value)} %`}
          onValue={setShare}
        />
      </Shown>
    </Group>
  );
}

function Openings() {
  const [isOpen, setOpen] = useState(false);
  return (
    <Group title="What opens">
      <Shown
        name="Popup, Overlay, Fold, Term"
        use="beside a button; over the screen; in place; a word explained"
      >
        <Popup button="Popup…" to="bottom start" width="w-48">
          {(close) => <Button onClick={close}>Close</Button>}
        </Popup>
        <Button onClick={() => setOpen(true)}>Overlay…</Button>
        <Overlay title="Overlay" isOpen={isOpen} onClose={() => setOpen(false)}>
          Escape closes it.
        </Overlay>
        <Term of="strain" />
        <Fold title="Fold">What is in it.</Fold>
      </Shown>
      <Shown name="toast" use="what was done, with a way back; errors say what to do next">
        <Button onClick={() => toast('“Rope” deleted.', { action: { label: 'Undo', onClick: () => {} } })}>
          Message
        </Button>
        <Button onClick={() => toast.error('The connection was lost. Try again.')}>Error</Button>
      </Shown>
    </Group>
  );
}

function States() {
  return (
    <Group title="States">
      <Shown name="Empty, Loading, Awaited, Progress" use="what stands there instead of content">
        <Empty className="p-2!">No samples match.</Empty>
        <Loading what="samples" className="p-2!" />
        <Awaited
          of={{ isPending: false, error: new Error('The server did not answer.'), refetch: () => {} }}
          what="samples"
        />
        <Progress label="Done" value={0.4} />
      </Shown>
    </Group>
  );
}
