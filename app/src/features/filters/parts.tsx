/** Parts the sections of the filters view share. */

import type { Project } from '@frelk/core';
import { slug } from '@frelk/core';
import { useState } from 'react';
import { nameOf } from '../../model/names';
import { Button } from '../../ui/controls';

/** A field and a button that add a thing by its name. */
export function Adder({ label, onAdd }: { label: string; onAdd: (id: string, text: string) => void }) {
	const [text, setText] = useState('');
	return (
		<form
			className="mt-1 flex gap-1"
			onSubmit={(event) => {
				event.preventDefault();
				const id = slug(text, 64);
				if (id !== '') onAdd(id, text.trim());
				setText('');
			}}
		>
			<input
				aria-label={label}
				placeholder={label.toLowerCase()}
				className="w-44"
				value={text}
				onChange={(event) => setText(event.target.value)}
			/>
			<Button type="submit" disabled={slug(text, 64) === ''}>
				Add
			</Button>
		</form>
	);
}

export function Counts({
	carried,
	asked,
	project,
}: {
	carried: readonly string[];
	asked: readonly string[];
	project: Project;
}) {
	return (
		<>
			<span
				className={carried.length === 0 ? 'text-cut' : 'text-quiet'}
				title={carried.map((id) => nameOf(project, 'object', id)).join(', ')}
			>
				{carried.length === 0 ? 'on no object yet' : `on ${carried.length}`}
			</span>
			<span className="truncate text-quiet">
				{asked.length === 0 ? 'asked by none' : asked.map((id) => nameOf(project, 'query', id)).join(', ')}
			</span>
		</>
	);
}
