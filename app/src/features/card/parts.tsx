/** What the cards of one and of several objects are made of. */
import type { Project, SceneObject } from '@frelk/core';
import { Copy, EyeOff, Lock, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { namesOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Check, Popover, Select, TextField } from '../../ui/controls';
import { commandsFor } from '../commands/commands';
import { changeId } from '../edit/naming';
import { freshId, isHidden, isLocked } from '../edit/objects';

/** A change of an object, named for the history. */
export type ChangeObject = (label: string, recipe: (o: SceneObject, draft: Project) => void) => void;

/** A button that runs a command by its name. */
export function CommandButton({ id, label, children }: { id: string; label: string; children: ReactNode }) {
	const store = useBenchStore();
	const command = commandsFor(store.getState().project).find((c) => c.id === id);
	return (
		<Button
			quiet
			className="px-1.5!"
			aria-label={label}
			title={command?.keys ? `${label} (${command.keys})` : label}
			onClick={() => command?.run(store)}
		>
			{children}
		</Button>
	);
}

export function HandButtons({ def }: { def: SceneObject | undefined }) {
	return (
		<>
			<CommandButton id="duplicate" label="Duplicate">
				<Copy size={13} />
			</CommandButton>
			<CommandButton id="hide" label={isHidden(def) ? 'Show on the stage' : 'Hide on the stage'}>
				<EyeOff size={13} className={isHidden(def) ? '' : 'opacity-50'} />
			</CommandButton>
			<CommandButton id="lock" label={isLocked(def) ? 'Unlock' : 'Lock against the hand'}>
				<Lock size={13} className={isLocked(def) ? '' : 'opacity-50'} />
			</CommandButton>
			<CommandButton id="delete" label="Delete">
				<Trash2 size={13} />
			</CommandButton>
		</>
	);
}

export const Label = ({ children }: { children: ReactNode }) => <span className="truncate text-quiet">{children}</span>;

/** An id that can be edited: every place that names it goes with it. */
export function IdField({ kind, id }: { kind: 'object' | 'query' | 'camera'; id: string }) {
	const store = useBenchStore();
	const [wrong, setWrong] = useState<string | null>(null);
	return (
		<span className="min-w-0">
			<TextField
				key={id}
				label="Id"
				className="figure"
				value={id}
				onCommit={(wish) => setWrong(changeId(store, kind, id, wish))}
			/>
			{wrong && (
				<span role="alert" className="text-cut">
					{wrong}
				</span>
			)}
		</span>
	);
}

interface Made {
	id: string;
	name: string;
}

/** A name that is being typed for something new: Enter makes it, Escape does not. */
function NewName({
	what,
	taken,
	onMade,
	onLeft,
}: {
	what: string;
	taken: readonly string[];
	onMade: (made: Made) => void;
	onLeft: () => void;
}) {
	const [text, setText] = useState('');
	const make = () => {
		const name = text.trim();
		if (name === '') onLeft();
		else onMade({ id: freshId(taken, name), name });
	};
	return (
		<input
			// biome-ignore lint/a11y/noAutofocus: its name is what was asked for
			autoFocus
			aria-label={`Name of the new ${what}`}
			placeholder={`new ${what}: its name`}
			className="w-full"
			value={text}
			onChange={(event) => setText(event.target.value)}
			onBlur={make}
			onKeyDown={(event) => {
				if (event.key === 'Enter') {
					event.preventDefault();
					make();
				}
				if (event.key === 'Escape') {
					event.stopPropagation();
					onLeft();
				}
			}}
		/>
	);
}

const NEW = '+';

/** One of the layers or sides there are, or a new one by its name. */
export function ChooseOrMake({
	label,
	kind,
	value,
	none,
	differs,
	onChange,
}: {
	label: string;
	kind: 'layer' | 'side';
	value: string;
	/** What no choice is called, where there may be none. */
	none?: string;
	/** Whether several have different ones. */
	differs?: boolean;
	onChange: (id: string, made?: Made) => void;
}) {
	const scene = useBench((s) => s.project.scene);
	const list = kind === 'layer' ? scene.layers : (scene.sides ?? []);
	const [making, setMaking] = useState(false);
	if (making)
		return (
			<NewName
				what={kind}
				taken={list.map((e) => e.id)}
				onMade={(made) => {
					setMaking(false);
					onChange(made.id, made);
				}}
				onLeft={() => setMaking(false)}
			/>
		);
	const names = namesOf(list);
	return (
		<Select
			label={label}
			value={differs ? '?' : value}
			options={[
				...(differs ? [{ value: '?', label: 'differs' }] : []),
				...(none === undefined ? [] : [{ value: '', label: none }]),
				...list.map((e) => ({ value: e.id, label: names.get(e.id) ?? e.id })),
				{ value: NEW, label: `new ${kind}…` },
			]}
			onChange={(id) => {
				if (id === NEW) setMaking(true);
				else if (id !== '?') onChange(id);
			}}
		/>
	);
}

export function TagPicker({
	project,
	tags,
	onChange,
}: {
	project: Project;
	tags: readonly string[];
	onChange: (tags: string[], made?: Made) => void;
}) {
	const text = tags.join(', ') || 'none';
	return (
		<Popover
			label="Tags"
			trigger={
				<Button className="figure justify-start truncate" aria-label={`Tags: ${text}`}>
					{text}
				</Button>
			}
		>
			<MakeTag
				tags={project.scene.tags}
				onMade={(made) => onChange([...tags, made.id], made)}
				onKnown={(id) => onChange([...tags.filter((t) => t !== id), id])}
			/>
			{project.scene.tags.map((tag) => (
				<Check
					key={tag.id}
					label={tag.name ?? tag.id}
					checked={tags.includes(tag.id)}
					onChange={(on) => {
						const rest = tags.filter((t) => t !== tag.id);
						onChange(on ? [...rest, tag.id] : rest);
					}}
				/>
			))}
		</Popover>
	);
}

/** A tag by its name: one there is, or a new one. Enter gives it, and the field is ready for the next. */
function MakeTag({
	tags,
	onMade,
	onKnown,
}: {
	tags: Project['scene']['tags'];
	onMade: (made: Made) => void;
	onKnown: (id: string) => void;
}) {
	const [text, setText] = useState('');
	return (
		<form
			className="mb-1"
			onSubmit={(event) => {
				event.preventDefault();
				const name = text.trim();
				setText('');
				if (name === '') return;
				const known = tags.find((t) => t.id === name || (t.name ?? t.id).toLowerCase() === name.toLowerCase());
				if (known) onKnown(known.id);
				else
					onMade({
						id: freshId(
							tags.map((t) => t.id),
							name,
						),
						name,
					});
			}}
		>
			<input
				aria-label="Tag by its name"
				placeholder="a tag, or a new one"
				list="known-tags"
				className="w-full"
				value={text}
				onChange={(event) => setText(event.target.value)}
			/>
			<datalist id="known-tags">
				{tags.map((t) => (
					<option key={t.id} value={t.name ?? t.id} />
				))}
			</datalist>
		</form>
	);
}
