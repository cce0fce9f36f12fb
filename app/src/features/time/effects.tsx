/** What the actions of a project do when they are pressed, in sentences. */
import { type Effect, type Project, type Run, runChecksIn, type StateValue, wordsOfValue } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, NumberField, Select, TextField } from '../../ui/controls';
import { VectorFields } from '../../ui/vector-fields';

type Line = Effect['do'][number];
type Who = Line['of'];

/** Every action something of the project has, those with an effect first. */
export function actionsIn(project: Project): string[] {
	const all = [
		...(project.effects ?? []).map((e) => e.action),
		...project.scene.objects.map((o) => o.action),
		...project.queries.flatMap((q) => (q.outcomes ?? []).map((o) => o.action)),
		...(project.moments ?? []).flatMap((m) => Object.values(m.objects ?? {}).map((o) => o.action)),
	];
	return [...new Set(all.filter((a): a is string => typeof a === 'string'))];
}

const whoKey = (who: Who | NonNullable<Line['carriedBy']>): string =>
	typeof who === 'object' ? `object:${who.object}` : who;
const whoOf = (key: string): Who => (key.startsWith('object:') ? { object: key.slice(7) } : (key as 'target'));

/** A line of an effect in words. */
export function lineWords(project: Project, line: Line): string {
	const who = (w: Who | NonNullable<Line['carriedBy']>): string =>
		w === 'target'
			? 'the target'
			: w === 'asker'
				? 'the asker'
				: w === 'scene'
					? 'the scene'
					: nameOf(project, 'object', w.object);
	const of = who(line.of);
	if (line.release) return `${of} is let go where it is`;
	if (line.carriedBy) {
		const at = line.at ?? [0, 0, 0];
		return `${of} is carried by ${who(line.carriedBy)}${at.some((v) => v !== 0) ? ` at ${at.join(', ')} m` : ''}`;
	}
	if (line.add)
		return Object.entries(line.add)
			.map(([state, by]) => `${of}’s ${state} ${by < 0 ? `goes down by ${-by}` : `goes up by ${by}`}`)
			.join(', ');
	return Object.entries(line.set ?? {})
		.flatMap(([field, value]) =>
			field === 'states'
				? Object.entries(value as object).map(([state, v]) => `${of}’s ${state} becomes ${said(v)}`)
				: field === 'shapes'
					? Object.entries(value as Record<string, { enabled: boolean }>).map(
							([shape, v]) => `${of}’s shape ${shape} is ${v.enabled ? 'there' : 'gone'}`,
						)
					: [`${of}’s ${field} becomes ${said(value)}`],
		)
		.join(', ');
}

const said = (value: unknown): string =>
	value === null ? 'none' : Array.isArray(value) ? value.join(', ') : wordsOfValue(value as StateValue);

const DEEDS = [
	{ value: 'state', label: 'has a state set' },
	{ value: 'add', label: 'has a number go up' },
	{ value: 'carriedBy', label: 'is carried by' },
	{ value: 'release', label: 'is let go where it is' },
] as const;
type Deed = (typeof DEEDS)[number]['value'] | 'other';

function deedOf(line: Line): Deed {
	if (line.release) return 'release';
	if (line.carriedBy) return 'carriedBy';
	if (line.add) return 'add';
	const keys = Object.keys(line.set ?? {});
	return keys.length === 1 && keys[0] === 'states' && Object.keys(line.set?.states ?? {}).length === 1
		? 'state'
		: 'other';
}

const fresh = (of: Who, deed: Deed): Line =>
	deed === 'carriedBy'
		? { of, carriedBy: 'asker', at: [0, 1, -0.6] }
		: deed === 'release'
			? { of, release: true }
			: deed === 'add'
				? { of, add: { uses: 1 } }
				: { of, set: { states: { used: true } } };

export function Effects({ run }: { run: Run | undefined }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const effects = project.effects ?? [];
	const without = actionsIn(project).filter((a) => !effects.some((e) => e.action === a));
	const put = (label: string, next: Effect[]) =>
		store.getState().editPlain(label, (draft) => {
			if (next.length > 0) draft.effects = next;
			else delete draft.effects;
		});
	const replace = (i: number, effect: Effect | null) =>
		put(
			'Effect',
			effects.flatMap((e, k) => (k === i ? (effect ? [effect] : []) : [e])),
		);
	const checks = run ? runChecksIn(project).filter((c) => c.run === run.id) : [];
	return (
		<div className="space-y-3 p-3">
			{effects.length === 0 && <p className="text-quiet">No action does anything yet when it is pressed.</p>}
			{effects.map((effect, i) => (
				<section key={effect.action} aria-label={`Effect of ${effect.action}`}>
					<h3 className="flex items-center font-semibold">
						<span className="flex-1">
							When <span className="figure">{effect.action}</span> is pressed
						</span>
						<Button
							quiet
							className="px-1.5!"
							aria-label={`${effect.action} does nothing more`}
							onClick={() => replace(i, null)}
						>
							<X size={12} />
						</Button>
					</h3>
					<ol>
						{effect.do.map((line, k) => (
							// biome-ignore lint/suspicious/noArrayIndexKey: lines have no name but their place
							<li key={k} className="border-t py-1">
								<p>{lineWords(project, line)}.</p>
								<LineEditor
									label={`${effect.action}, line ${k + 1}`}
									line={line}
									onChange={(next) =>
										replace(i, { ...effect, do: effect.do.flatMap((l, n) => (n === k ? (next ? [next] : []) : [l])) })
									}
								/>
							</li>
						))}
					</ol>
					<Button onClick={() => replace(i, { ...effect, do: [...effect.do, fresh('target', 'state')] })}>
						<Plus size={12} /> and then
					</Button>
				</section>
			))}
			<Select
				label="An action that does something"
				className="w-full"
				value=""
				options={[
					{ value: '', label: without.length === 0 ? 'every action has its effect' : 'give an action an effect…' },
					...without.map((a) => ({ value: a, label: a })),
				]}
				onChange={(action) =>
					action !== '' && put(`Effect of ${action}`, [...effects, { action, do: [fresh('target', 'carriedBy')] }])
				}
			/>
			{checks.length > 0 && (
				<p className="text-[12px] text-quiet">
					{checks.length} {checks.length === 1 ? 'check holds' : 'checks hold'} this run; they are worked out again with
					every change here.
				</p>
			)}
		</div>
	);
}

function LineEditor({ label, line, onChange }: { label: string; line: Line; onChange: (line: Line | null) => void }) {
	const objects = useBench((s) => s.project.scene.objects);
	const deed = deedOf(line);
	const named = objects.map((o) => ({ value: `object:${o.id}`, label: o.name ?? o.id }));
	const [state, value] = Object.entries(line.set?.states ?? line.add ?? {})[0] ?? ['', 0];
	return (
		<div className="flex flex-wrap items-center gap-1">
			<Select
				label={`${label}: who`}
				className="max-w-28"
				value={whoKey(line.of)}
				options={[
					{ value: 'target', label: 'the target' },
					{ value: 'asker', label: 'the asker' },
					...(deed === 'carriedBy' || deed === 'release' ? [] : [{ value: 'scene', label: 'the scene' }]),
					...named,
				]}
				onChange={(who) => onChange({ ...line, of: whoOf(who) })}
			/>
			<Select
				label={`${label}: what`}
				className="max-w-36"
				value={deed}
				options={[
					...DEEDS.filter((d) => line.of !== 'scene' || d.value === 'state' || d.value === 'add'),
					...(deed === 'other' ? [{ value: 'other' as const, label: 'as it says above' }] : []),
				]}
				onChange={(next) => onChange(fresh(line.of, next))}
			/>
			{(deed === 'state' || deed === 'add') && (
				<TextField
					label={`${label}: state`}
					className="figure max-w-24"
					value={state}
					onCommit={(name) =>
						name.trim() !== '' &&
						onChange(
							deed === 'add'
								? { of: line.of, add: { [name.trim()]: Number(value) } }
								: { of: line.of, set: { states: { [name.trim()]: value } } },
						)
					}
				/>
			)}
			{deed === 'state' && (
				<Select
					label={`${label}: value`}
					value={value === true ? 'yes' : value === false ? 'no' : 'number'}
					options={[
						{ value: 'yes', label: 'yes' },
						{ value: 'no', label: 'no' },
						{ value: 'number', label: 'a number' },
					]}
					onChange={(v) => onChange({ of: line.of, set: { states: { [state]: v === 'number' ? 1 : v === 'yes' } } })}
				/>
			)}
			{(deed === 'add' || (deed === 'state' && typeof value === 'number')) && (
				<NumberField
					hideLabel
					label={`${label}: number`}
					className="w-14"
					step={1}
					value={Number(value)}
					onChange={(n) =>
						onChange(
							deed === 'add' ? { of: line.of, add: { [state]: n } } : { of: line.of, set: { states: { [state]: n } } },
						)
					}
				/>
			)}
			{deed === 'carriedBy' && line.carriedBy && (
				<>
					<Select
						label={`${label}: by whom`}
						className="max-w-28"
						value={whoKey(line.carriedBy)}
						options={[{ value: 'asker', label: 'the asker' }, { value: 'target', label: 'the target' }, ...named]}
						onChange={(who) => onChange({ ...line, carriedBy: whoOf(who) as NonNullable<Line['carriedBy']> })}
					/>
					<VectorFields
						label={`${label}: at`}
						value={line.at ?? [0, 0, 0]}
						onChange={(at) => onChange({ ...line, at })}
					/>
				</>
			)}
			<Button quiet className="px-1.5!" aria-label={`${label}: leave out`} onClick={() => onChange(null)}>
				<X size={12} />
			</Button>
		</div>
	);
}
