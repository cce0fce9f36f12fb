/** What several objects in hand have in common, changed for all of them at once; and how they lie to each other. */
import type { Project, SceneObject } from '@frelk/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore, useWorld } from '../../model/use-bench';
import { Button, NumberField, Select, TextField } from '../../ui/controls';
import { Term } from '../../ui/term';
import { align, distribute } from '../edit/acts';
import { ruleForAll } from '../edit/rule-for-all';
import { ChooseOrMake, CommandButton, HandButtons, Label, TagPicker } from './parts';

/** The value all have, or undefined where they differ. */
function common<T>(objects: readonly SceneObject[], of: (o: SceneObject) => T): T | undefined {
	const first = objects[0];
	if (!first) return undefined;
	const value = of(first);
	return objects.every((o) => JSON.stringify(of(o)) === JSON.stringify(value)) ? value : undefined;
}

export function Several() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const selection = useBench((s) => s.selection);
	const world = useWorld();
	const flat = world.flat;
	const objects = selection.flatMap((id) => world.objectById.get(id)?.def ?? []);
	const change = (label: string, recipe: (o: SceneObject) => void, first?: (draft: Project) => unknown) =>
		store.getState().edit(`${label} of ${objects.length} objects`, (draft) => {
			first?.(draft);
			for (const o of draft.scene.objects) if (selection.includes(o.id)) recipe(o);
		});
	const shared = (objects[0]?.tags ?? []).filter((tag) => objects.every((o) => o.tags?.includes(tag)));
	const layer = common(objects, (o) => o.layer);
	const side = common(objects, (o) => o.side ?? '');
	const active = common(objects, (o) => o.active ?? true);
	return (
		<>
			<header className="mb-1 flex items-center">
				<h2 className="flex-1 px-2 font-semibold">
					{objects.length} objects <Term>in hand</Term>
				</h2>
				<HandButtons def={objects.at(-1)} />
				<Button quiet className="px-1.5!" aria-label="Put the card away" onClick={() => store.getState().pick(null)}>
					<X size={14} />
				</Button>
			</header>
			<div className="grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
				<Label>Layer</Label>
				<ChooseOrMake
					label="Layer of all"
					kind="layer"
					value={layer ?? ''}
					differs={layer === undefined}
					onChange={(v, made) =>
						change(
							'Layer',
							(o) => void (o.layer = v),
							(draft) => made && draft.scene.layers.push(made),
						)
					}
				/>
				<Label>Tags of all</Label>
				<TagPicker
					project={project}
					tags={shared}
					onChange={(next, made) =>
						change(
							'Tags',
							(o) => {
								const kept = (o.tags ?? []).filter((t) => !shared.includes(t) || next.includes(t));
								o.tags = [...kept, ...next.filter((t) => !kept.includes(t))];
							},
							(draft) => made && draft.scene.tags.push(made),
						)
					}
				/>
				<Label>Side</Label>
				<ChooseOrMake
					label="Side of all"
					kind="side"
					none="none"
					value={side ?? ''}
					differs={side === undefined}
					onChange={(v, made) =>
						change(
							'Side',
							(o) => (v === '' ? void delete o.side : void (o.side = v)),
							(draft) => made && (draft.scene.sides = [...(draft.scene.sides ?? []), made]),
						)
					}
				/>
				<Label>Active</Label>
				<Select
					label="Active, all"
					value={active === undefined ? '?' : active ? 'yes' : 'no'}
					options={[
						...(active === undefined ? [{ value: '?', label: 'differs' }] : []),
						{ value: 'yes', label: 'yes' },
						{ value: 'no', label: 'no' },
					]}
					onChange={(v) =>
						v !== '?' && change('Active', (o) => (v === 'yes' ? void delete o.active : void (o.active = false)))
					}
				/>
				<Label>Priority</Label>
				<NumberField
					hideLabel
					label="Priority of all"
					step={1}
					value={common(objects, (o) => o.priority ?? 0)}
					placeholder="differs"
					onChange={(v) => change('Priority', (o) => void (o.priority = v))}
				/>
				<Label>Prompt</Label>
				<TextField
					label="Prompt of all"
					value={common(objects, (o) => o.prompt ?? '') ?? ''}
					placeholder="differs"
					onCommit={(v) => change('Prompt', (o) => (v === '' ? void delete o.prompt : void (o.prompt = v)))}
				/>
			</div>
			<RuleForAll ids={selection} />
			<h3 className="mt-2 border-t pt-1 font-semibold">Line up with the last one taken</h3>
			<div className="grid grid-cols-[1.2rem_repeat(4,1fr)] items-center gap-1">
				{(flat ? ([0, 1] as const) : ([0, 1, 2] as const)).map((axis) => (
					<div key={axis} className="contents">
						<span className="figure text-quiet">{'XYZ'[axis]}</span>
						{(['low', 'middle', 'high'] as const).map((edge) => (
							<Button
								key={edge}
								aria-label={`Align ${'XYZ'[axis]}, ${edge}`}
								className="justify-center"
								onClick={() => align(store, axis, edge)}
							>
								{edge}
							</Button>
						))}
						<Button
							className="justify-center"
							disabled={objects.length < 3}
							aria-label={`Spread out in ${'XYZ'[axis]}`}
							onClick={() => distribute(store, axis)}
						>
							spread
						</Button>
					</div>
				))}
			</div>
			<div className="mt-2 flex gap-1 border-t pt-1">
				<CommandButton id="group" label="Group under a new parent">
					Group
				</CommandButton>
				<CommandButton id="attach" label="Attach the others to the last one taken">
					Attach to the last
				</CommandButton>
				<CommandButton id="detach" label="Detach from what they hang on">
					Detach
				</CommandButton>
			</div>
		</>
	);
}

/** What a player reads and does with all of them, said once: a tag they share and one outcome of the open query. */
function RuleForAll({ ids }: { ids: readonly string[] }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const query = useBench((s) => s.query);
	const [prompt, setPrompt] = useState('');
	const [action, setAction] = useState('');
	if (query === null) return null;
	return (
		<section aria-label="One rule for all" className="mt-2 border-t pt-1">
			<h3 className="font-semibold">One rule for all, on {nameOf(project, 'query', query)}</h3>
			<div className="mt-1 grid grid-cols-[minmax(0,1fr)_6rem_auto] items-center gap-1">
				<TextField label="Rule: prompt" placeholder="Lift {name}" value={prompt} onCommit={setPrompt} />
				<TextField label="Rule: action" placeholder="lift" value={action} onCommit={setAction} />
				<Button
					onClick={() => {
						if (prompt === '' && action === '') return;
						store
							.getState()
							.edit(`One rule for ${ids.length} objects`, (draft) => ruleForAll(draft, ids, query, { prompt, action }));
						setPrompt('');
						setAction('');
					}}
				>
					Add
				</Button>
			</div>
		</section>
	);
}
