/** The object card: every value of what is in hand, edited on the stage. */
import type { StateValue, WorldObject } from '@frelk/core';
import { PanelLeft, PanelRight, Plus, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useBench, useBenchStore, useWorld } from '../../model/use-bench';
import { Button, Check, NumberField, Select, TextField } from '../../ui/controls';
import { Term } from '../../ui/term';
import { VectorFields } from '../../ui/vector-fields';
import { nameThing } from '../edit/naming';
import { hangUnder } from '../edit/objects';
import { bringAlong, followersOf } from '../edit/ready-mades';
import { CardFrame } from './frame';
import { type ChangeObject, ChooseOrMake, HandButtons, IdField, Label, TagPicker } from './parts';
import { Several } from './several';
import { Shapes } from './shapes';

/** @param side where it lies: over the list of queries, or on the stage beside the ladder */
export default function ObjectCard({ object, side }: { object: WorldObject; side: 'queries' | 'ladder' }) {
	const several = useBench((s) => s.selection.length > 1);
	return (
		<CardFrame label={several ? 'Card: several objects' : `Card: ${object.def.name ?? object.id}`} side={side}>
			{several ? <Several /> : <One object={object} />}
		</CardFrame>
	);
}

function One({ object }: { object: WorldObject }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const world = useWorld();
	const inDetail = useBench((s) => s.inDetail);
	const cardSide = useBench((s) => s.cardSide);
	const { def } = object;
	const flat = project.scene.kind === 'flat';
	const title = def.name ?? def.id;
	const change: ChangeObject = (label, recipe) =>
		store.getState().edit(`${label} of ${title}`, (draft) => {
			const target = draft.scene.objects.find((o) => o.id === object.id);
			if (!target) return;
			recipe(target, draft);
			bringAlong(draft, object.id);
		});
	const followers = useMemo(() => followersOf(project, def.id), [project, def.id]);
	const rotation = def.rotation ?? [0, 0, 0];
	const others = project.scene.objects.filter((o) => o.id !== def.id);
	const uneven =
		object.scale.some((v) => v !== object.scale[0]) &&
		object.shapes.some((s) => ['sphere', 'circle', 'capsule', 'cylinder'].includes(s.def.kind));
	return (
		<>
			<header className="mb-1 flex items-center">
				<TextField
					label="Name"
					value={title}
					className="border-transparent! font-semibold"
					onCommit={(name) => nameThing(store, 'object', object.id, name)}
				/>
				<HandButtons def={def} />
				<Button
					quiet
					className="px-1.5!"
					aria-label={cardSide === 'ladder' ? 'Put the card over the queries' : 'Put the card beside the ladder'}
					title={cardSide === 'ladder' ? 'Over the queries' : 'Beside the ladder'}
					onClick={() => store.getState().dockCard(cardSide === 'ladder' ? 'queries' : 'ladder')}
				>
					{cardSide === 'ladder' ? <PanelLeft size={14} /> : <PanelRight size={14} />}
				</Button>
				<Button quiet className="px-1.5!" aria-label="Put the card away" onClick={() => store.getState().pick(null)}>
					<X size={14} />
				</Button>
			</header>
			<div className="grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
				<Label>{flat ? 'Place, depth' : 'Place (m)'}</Label>
				<VectorFields
					label="Place"
					names={['X', 'Y', flat ? 'Depth' : 'Z']}
					value={def.position ?? [0, 0, 0]}
					step={flat ? 0.01 : 0.1}
					onChange={(v) => change('Place', (o) => void (o.position = v))}
				/>
				<Label>Turn (°)</Label>
				{flat ? (
					<NumberField
						hideLabel
						label="Roll"
						value={rotation[2]}
						step={5}
						onChange={(v) => change('Turn', (o) => void (o.rotation = [0, 0, v]))}
					/>
				) : (
					<VectorFields
						label="Turn"
						names={['Yaw', 'Pitch', 'Roll']}
						marks={['y', 'p', 'r']}
						value={rotation}
						step={5}
						onChange={(v) => change('Turn', (o) => void (o.rotation = v))}
					/>
				)}
				<Label>Layer</Label>
				<ChooseOrMake
					label="Layer"
					kind="layer"
					value={def.layer}
					onChange={(layer, made) =>
						change('Layer', (o, draft) => {
							if (made) draft.scene.layers.push(made);
							o.layer = layer;
						})
					}
				/>
				<Label>Tags</Label>
				<TagPicker
					project={project}
					tags={def.tags ?? []}
					onChange={(tags, made) =>
						change('Tags', (o, draft) => {
							if (made) draft.scene.tags.push(made);
							o.tags = tags;
						})
					}
				/>
				<Label>Prompt</Label>
				<TextField
					label="Prompt"
					value={def.prompt ?? ''}
					onCommit={(v) => change('Prompt', (o) => (v === '' ? void delete o.prompt : void (o.prompt = v)))}
				/>
				<Label>Action</Label>
				<TextField
					label="Action"
					className="figure"
					value={def.action ?? ''}
					onCommit={(v) => change('Action', (o) => (v === '' ? void delete o.action : void (o.action = v)))}
				/>
				<States states={def.states ?? {}} change={change} />
				<Label>Active</Label>
				<Check
					label="Active"
					checked={def.active ?? true}
					onChange={(on) => change('Active', (o) => (on ? void delete o.active : void (o.active = false)))}
				>
					<span className="text-quiet">{object.active === (def.active ?? true) ? '' : 'what it hangs on is not'}</span>
				</Check>
			</div>
			{followers.length > 0 && (
				<p className="mt-1 border-l-2 border-ink pl-2 text-[12px]">
					{followers.length} {followers.length === 1 ? 'other' : 'others'} of this thing follow what is changed here:
					layer, tags, prompt and shapes.{' '}
					<Button
						quiet
						className="underline"
						onClick={() => change('Apart', (o) => void (o.extras = { ...(o.extras as object), apart: true }))}
					>
						Not this one
					</Button>
				</p>
			)}
			{uneven && (
				<p className="mt-1 border-l-2 border-short pl-2 text-[12px]">
					Its scale is uneven: round shapes take the larger side.
				</p>
			)}
			<details
				className="mt-1 border-t pt-1"
				open={inDetail}
				onToggle={(event) => store.getState().detail(event.currentTarget.open)}
			>
				<summary className="font-semibold">More</summary>
				<div className="mt-1 grid grid-cols-[4.6rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
					<Label>Id</Label>
					<IdField kind="object" id={def.id} />
					<Label>Scale</Label>
					<VectorFields
						label="Scale"
						names={['Scale X', 'Scale Y', 'Scale Z']}
						value={def.scale ?? [1, 1, 1]}
						step={0.1}
						min={0.001}
						onChange={(v) => change('Scale', (o) => void (o.scale = flat ? [v[0], v[1], 1] : v))}
					/>
					<Label>Priority</Label>
					<NumberField
						hideLabel
						label="Priority"
						step={1}
						value={def.priority ?? 0}
						onChange={(v) => change('Priority', (o) => void (o.priority = v))}
					/>
					<Label>
						<Term>Side</Term>
					</Label>
					<ChooseOrMake
						label="Side"
						kind="side"
						none="none"
						value={def.side ?? ''}
						onChange={(v, made) =>
							change('Side', (o, draft) => {
								if (made) draft.scene.sides = [...(draft.scene.sides ?? []), made];
								if (v === '') delete o.side;
								else o.side = v;
							})
						}
					/>
					<Label>
						<Term>Hangs on</Term>
					</Label>
					<Select
						label="Hangs on"
						value={def.parent ?? ''}
						options={[{ value: '', label: 'nothing' }, ...others.map((o) => ({ value: o.id, label: o.name ?? o.id }))]}
						onChange={(v) =>
							store
								.getState()
								.edit(`${v === '' ? 'Detach' : 'Attach'} ${title}`, (draft) =>
									hangUnder(draft, world, def.id, v === '' ? null : v),
								)
						}
					/>
					<Label>
						<Term>Answers for</Term>
					</Label>
					<Select
						label="Answers for"
						value={def.standsFor ?? ''}
						options={[
							{ value: '', label: 'itself' },
							...others.filter((o) => o.standsFor === undefined).map((o) => ({ value: o.id, label: o.name ?? o.id })),
						]}
						onChange={(v) =>
							change('Answers for', (o) => (v === '' ? void delete o.standsFor : void (o.standsFor = v)))
						}
					/>
					<Label>
						<Term is="focus">Focus (m)</Term>
					</Label>
					<VectorFields
						label="Focus"
						value={def.focus ?? [0, 0, 0]}
						step={flat ? 0.01 : 0.1}
						onChange={(v) => change('Focus', (o) => void (o.focus = v))}
					/>
					<Label>
						<Term>Approach</Term>
					</Label>
					<Check
						label="Only from one side"
						checked={def.approach !== undefined}
						onChange={(on) =>
							change('Approach', (o) =>
								on ? void (o.approach = { from: flat ? [1, 0, 0] : [0, 0, 1], within: 60 }) : void delete o.approach,
							)
						}
					/>
					{def.approach && (
						<>
							<Label>from (local)</Label>
							<VectorFields
								label="Approach from"
								value={def.approach.from}
								onChange={(from) => change('Approach', (o) => o.approach && void (o.approach.from = from))}
							/>
							<Label>within</Label>
							<NumberField
								hideLabel
								label="Approach within"
								unit="°"
								min={0}
								step={5}
								value={def.approach.within}
								onChange={(within) => change('Approach', (o) => o.approach && void (o.approach.within = within))}
							/>
						</>
					)}
				</div>
			</details>
			<Shapes def={def} flat={flat} change={change} />
		</>
	);
}

function States({ states, change }: { states: Readonly<Record<string, StateValue>>; change: ChangeObject }) {
	const [name, setName] = useState('');
	const set = (state: string, value: StateValue | null) =>
		change(state, (o) => {
			const next = { ...o.states };
			if (value === null) delete next[state];
			else next[state] = value;
			if (Object.keys(next).length === 0) delete o.states;
			else o.states = next;
		});
	const add = () => {
		const state = name.trim();
		if (state !== '' && !(state in states)) set(state, true);
		setName('');
	};
	return (
		<>
			{Object.entries(states).map(([state, value]) => (
				<div key={state} className="contents">
					<span className="truncate text-quiet" title={state}>
						{state}
					</span>
					<span className="flex items-center gap-1">
						{typeof value === 'boolean' ? (
							<Check label={state} checked={value} onChange={(v) => set(state, v)}>
								{value ? 'yes' : 'no'}
							</Check>
						) : (
							<NumberField
								hideLabel
								className="flex-1"
								label={state}
								value={value}
								step={1}
								onChange={(v) => set(state, v)}
							/>
						)}
						<Button
							quiet
							className="ml-auto text-quiet"
							aria-label={`Make ${state} a ${typeof value === 'boolean' ? 'number' : 'yes or no'}`}
							onClick={() => set(state, typeof value === 'boolean' ? Number(value) : value !== 0)}
						>
							{typeof value === 'boolean' ? '1 2 3' : 'y/n'}
						</Button>
						<Button quiet className="px-1.5!" aria-label={`Remove the state ${state}`} onClick={() => set(state, null)}>
							<X size={12} />
						</Button>
					</span>
				</div>
			))}
			<Label>States</Label>
			<form
				className="flex gap-1"
				onSubmit={(event) => {
					event.preventDefault();
					add();
				}}
			>
				<input
					aria-label="New state"
					placeholder="new state"
					className="figure min-w-0 flex-1"
					value={name}
					onChange={(event) => setName(event.target.value)}
				/>
				<Button type="submit" aria-label="Add the state" disabled={name.trim() === ''}>
					<Plus size={12} />
				</Button>
			</form>
		</>
	);
}
