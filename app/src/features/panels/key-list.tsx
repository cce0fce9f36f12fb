/** The keys, from the list of commands, and what the pointer does on the stage. */
import { useState } from 'react';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Check } from '../../ui/controls';
import { Dialog } from '../../ui/dialog';
import { commandsFor, letLettersAct, lettersAct } from '../commands/commands';

const STAGE: [string, string][] = [
	['Arrow keys', 'move what is in hand 0.1 m (Shift: 1 m); in flat scenes 0.01 m'],
	['Page Up, Page Down', 'raise or lower what is in hand; in flat scenes its depth'],
	['+ and −', 'come nearer, go farther'],
	['Enter', 'with a tool: use it in the middle of the stage'],
	['Drag', 'turn the view; what is in hand: move it; a handle: pull it'],
	['Shift and drag', 'shift the view'],
	['Shift and click', 'take more objects in hand'],
	['Alt while dragging', 'leave grid, faces and 15° steps out'],
];
const EYE: [string, string][] = [
	['Arrow keys', 'move the cursor 1 px (Shift: 10 px), or turn the aim'],
	['Walk, then arrow keys', 'walk and turn; Shift and arrows step aside; Page Up and Page Down look up and down'],
];

const ESCAPE = [
	'a drag: everything is as it was before it',
	'what is being typed in a field: the field is as it was',
	'an open picker or window',
	'a stroke that was begun with a tool',
	'walking in the eye',
	'a panel drawn over the stage',
	'the tool',
	'what is in hand, and with it the card',
	'the eye of another camera',
	'the roster or the moments beside the view',
];

function Rows({ rows }: { rows: [string, string][] }) {
	return (
		<dl className="mb-3 grid grid-cols-[13rem_1fr] gap-x-4 gap-y-0.5">
			{rows.map(([keys, what]) => (
				<div key={keys + what} className="contents">
					<dt className="figure">{keys}</dt>
					<dd>{what}</dd>
				</div>
			))}
		</dl>
	);
}

export default function KeyList() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const listed = commandsFor(project).filter((c) => c.keys);
	const [letters, setLetters] = useState(lettersAct);
	return (
		<Dialog title="Keys" wide onClose={() => store.getState().show(null)}>
			<Check
				label="Single keys without Ctrl are shortcuts"
				checked={letters}
				onChange={(on) => {
					letLettersAct(on);
					setLetters(on);
				}}
			/>
			<h3 className="mt-2 mb-1 font-semibold">Everywhere on the bench</h3>
			<Rows rows={listed.map((c) => [(c.keys ?? '').replace(/ /g, ' + '), c.label])} />
			<h3 className="mb-1 font-semibold">On the stage</h3>
			<Rows rows={STAGE} />
			<h3 className="mb-1 font-semibold">In the eye</h3>
			<Rows rows={EYE} />
			<h3 className="mb-1 font-semibold">Escape leaves one thing at a time, the innermost first</h3>
			<ol className="mb-3 list-decimal pl-6">
				{ESCAPE.map((line) => (
					<li key={line}>{line}</li>
				))}
			</ol>
			<p className="text-quiet">
				In number fields: arrow keys step, Shift tenfold, Alt a tenth; sums such as 2*0.4 are worked out. On a Mac, Ctrl
				is ⌘.
			</p>
		</Dialog>
	);
}
