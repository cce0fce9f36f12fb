/** Something new by its name, from where it is chosen: made and chosen in one step. */
import { useState } from 'react';
import { useBenchStore } from '../../../model/use-bench';
import { freshId } from '../../edit/objects';

/**
 * @param what a layer or a tag
 * @param choose takes the new one into the query
 */
export function MakeHere({ what, choose }: { what: 'layer' | 'tag'; choose: (id: string) => void }) {
	const store = useBenchStore();
	const [text, setText] = useState('');
	const make = () => {
		const name = text.trim();
		setText('');
		if (name === '') return;
		const { project, beginGesture, edit, endGesture } = store.getState();
		const list = what === 'layer' ? project.scene.layers : project.scene.tags;
		const known = list.find((e) => e.id === name || (e.name ?? e.id).toLowerCase() === name.toLowerCase());
		if (known) return choose(known.id);
		const id = freshId(
			list.map((e) => e.id),
			name,
		);
		// Made and chosen are one step of the history.
		beginGesture(`New ${what} ${name}`);
		edit(`New ${what}`, (draft) => void (what === 'layer' ? draft.scene.layers : draft.scene.tags).push({ id, name }));
		choose(id);
		endGesture();
	};
	return (
		<form
			className="mt-1"
			onSubmit={(event) => {
				event.preventDefault();
				make();
			}}
		>
			<input
				aria-label={`Name of a new ${what}`}
				placeholder={`new ${what}: its name, Enter`}
				className="w-full"
				value={text}
				onChange={(event) => setText(event.target.value)}
			/>
		</form>
	);
}
