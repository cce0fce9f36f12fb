/** Naming rules as sentences: whose names match, and what they become, with how many match as one types. */
import { slug } from '@frelk/core';
import type { NamingRule, NamingRules } from '@frelk/interchange';
import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Button, Check, Select } from '../../ui/controls';

const OF = [
	{ value: 'name', label: 'name' },
	{ value: 'path', label: 'path' },
	{ value: 'extra', label: 'extra' },
] as const;
const SHAPES = [
	{ value: '', label: 'as before' },
	{ value: 'file', label: 'the file’s own' },
	{ value: 'box', label: 'its box' },
	{ value: 'hull', label: 'its hull' },
	{ value: 'mesh', label: 'its triangles' },
] as const;
const ROLES = [
	{ value: '', label: 'as before' },
	{ value: 'solid', label: 'solid' },
	{ value: 'sensor', label: 'sensor' },
] as const;

const field = 'w-full min-w-0';

/** A text that goes into the rule as it is typed. */
function Typed({
	label,
	value,
	placeholder,
	onType,
	list,
}: {
	label: string;
	value: string;
	placeholder?: string;
	onType: (text: string) => void;
	list?: string;
}) {
	return (
		<input
			aria-label={label}
			className={field}
			value={value}
			placeholder={placeholder}
			list={list}
			onChange={(event) => onType(event.target.value)}
		/>
	);
}

const of = (when: NamingRule['when']): 'name' | 'path' | 'extra' =>
	when.path !== undefined ? 'path' : when.extra !== undefined ? 'extra' : 'name';

/** The same rule without what was emptied. */
const without = (rule: NamingRule): NamingRule =>
	Object.fromEntries(
		Object.entries(rule).filter(([, v]) => v !== undefined && v !== '' && !(Array.isArray(v) && v.length === 0)),
	) as NamingRule;

export function RuleList({
	rules,
	matches,
	layers,
	tags,
	onChange,
}: {
	rules: NamingRules;
	matches: readonly number[];
	layers: readonly string[];
	tags: readonly string[];
	onChange: (rules: NamingRules) => void;
}) {
	const list = rules.rules ?? [];
	const put = (next: NamingRule[]) => onChange({ ...rules, rules: next });
	const last = useRef<HTMLOListElement>(null);
	const count = useRef(list.length);
	useEffect(() => {
		// After "Add" the new rule's name is in the hand.
		if (list.length > count.current) last.current?.querySelector<HTMLInputElement>('li:last-child input')?.focus();
		count.current = list.length;
	}, [list.length]);
	return (
		<section aria-label="Naming rules" className="flex min-h-0 flex-col">
			<datalist id="level-layers">
				{layers.map((l) => (
					<option key={l} value={l} />
				))}
			</datalist>
			<datalist id="level-tags">
				{tags.map((t) => (
					<option key={t} value={t} />
				))}
			</datalist>
			<div className="flex items-center justify-between px-3 py-2">
				<h3 className="font-semibold">Rules</h3>
				<Button onClick={() => put([...list, { when: { name: '*' } }])}>
					<Plus size={13} /> Add a rule
				</Button>
			</div>
			<div className="grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1 border-b px-3 pb-2 text-[12.5px]">
				<span className="text-quiet">What no rule says: layer</span>
				<Typed
					label="Layer of what no rule says"
					list="level-layers"
					value={rules.layer ?? ''}
					placeholder={layers[0] ?? 'level'}
					onType={(text) => onChange({ ...rules, layer: slug(text, 64) || undefined })}
				/>
				<span className="text-quiet">its shape</span>
				<Select
					label="Shape of what no rule says"
					value={rules.shape ?? 'file'}
					options={SHAPES.filter((s) => s.value !== '') as { value: 'file' | 'box' | 'hull' | 'mesh'; label: string }[]}
					onChange={(shape) => onChange({ ...rules, shape })}
					className={field}
				/>
			</div>
			<ol ref={last} className="min-h-0 flex-1 overflow-auto">
				{list.map((rule, i) => {
					const n = i + 1;
					const set = (change: Partial<NamingRule>) =>
						put(list.map((r, k) => (k === i ? without({ ...r, ...change }) : r)));
					const kind = of(rule.when);
					const swap = (to: number) => {
						const next = [...list];
						[next[i], next[to]] = [next[to] as NamingRule, next[i] as NamingRule];
						put(next);
					};
					return (
						<li
							// biome-ignore lint/suspicious/noArrayIndexKey: a rule has no name but its place
							key={i}
							aria-label={`Rule ${n}`}
							className="grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1 border-b px-3 py-2 text-[12.5px]"
						>
							<span className="col-span-2 flex items-center gap-1">
								<span className="font-semibold">Nodes whose</span>
								<Select
									label={`Rule ${n}: matches by`}
									value={kind}
									options={OF}
									onChange={(to) => {
										const text = rule.when.name ?? rule.when.path ?? rule.when.is ?? '*';
										set({ when: to === 'extra' ? { extra: 'kind', is: text } : { [to]: text } });
									}}
								/>
								<span className={`figure ml-auto ${(matches[i] ?? 0) === 0 ? 'text-cut' : 'text-quiet'}`}>
									{matches[i] ?? 0} match
								</span>
								<Button
									quiet
									className="px-1.5!"
									disabled={i === 0}
									aria-label={`Move rule ${n} up`}
									onClick={() => swap(i - 1)}
								>
									<ArrowUp size={12} />
								</Button>
								<Button
									quiet
									className="px-1.5!"
									disabled={i === list.length - 1}
									aria-label={`Move rule ${n} down`}
									onClick={() => swap(i + 1)}
								>
									<ArrowDown size={12} />
								</Button>
								<Button
									quiet
									className="px-1.5!"
									aria-label={`Take rule ${n} out`}
									onClick={() => put(list.filter((_, k) => k !== i))}
								>
									<Trash2 size={12} />
								</Button>
							</span>
							{kind === 'extra' && (
								<>
									<span className="text-quiet">key</span>
									<Typed
										label={`Rule ${n}: key of the extras`}
										value={rule.when.extra ?? ''}
										onType={(extra) => set({ when: { ...rule.when, extra } })}
									/>
								</>
							)}
							<span className="text-quiet">{kind === 'extra' ? 'is' : 'matches'}</span>
							<Typed
								label={`Rule ${n}: what it matches`}
								value={(kind === 'name' ? rule.when.name : kind === 'path' ? rule.when.path : rule.when.is) ?? ''}
								placeholder="*_trigger"
								onType={(text) =>
									set({
										when:
											kind === 'extra'
												? { ...rule.when, ...(text === '' ? { is: undefined } : { is: text }) }
												: { [kind]: text },
									})
								}
							/>
							<span className="col-span-2">
								<Check
									label={`Rule ${n}: leave out`}
									checked={rule.leave === true}
									onChange={(leave) => set({ leave: leave || undefined })}
								>
									are left out
								</Check>
							</span>
							{rule.leave !== true && (
								<>
									<span className="text-quiet">layer</span>
									<Typed
										label={`Rule ${n}: layer`}
										list="level-layers"
										value={rule.layer ?? ''}
										placeholder="as before"
										onType={(text) => set({ layer: slug(text, 64) || undefined })}
									/>
									<span className="text-quiet">tags</span>
									<Typed
										label={`Rule ${n}: tags`}
										list="level-tags"
										value={(rule.tags ?? []).join(' ')}
										placeholder="none"
										onType={(text) =>
											set({
												tags: text
													.split(/\s+/)
													.map((t) => slug(t, 64))
													.filter((t) => t !== ''),
											})
										}
									/>
									<span className="text-quiet">shape</span>
									<Select
										label={`Rule ${n}: shape`}
										value={rule.shape ?? ''}
										options={SHAPES}
										onChange={(shape) => set({ shape: shape === '' ? undefined : shape })}
										className={field}
									/>
									<span className="text-quiet">role</span>
									<Select
										label={`Rule ${n}: role`}
										value={rule.role ?? ''}
										options={ROLES}
										onChange={(role) => set({ role: role === '' ? undefined : role })}
										className={field}
									/>
									<span className="text-quiet">prompt</span>
									<Typed
										label={`Rule ${n}: prompt`}
										value={rule.prompt ?? ''}
										placeholder="none"
										onType={(prompt) => set({ prompt })}
									/>
									<span className="text-quiet">action</span>
									<Typed
										label={`Rule ${n}: action`}
										value={rule.action ?? ''}
										placeholder="none"
										onType={(action) => set({ action })}
									/>
								</>
							)}
						</li>
					);
				})}
				{list.length === 0 && (
					<li className="p-3 text-[12.5px] text-quiet">
						No rule yet. A rule says what nodes of a name become: those called *_trigger sensors on a layer of their
						own, say. Later rules go over earlier ones; tags add up. They are kept in the project.
					</li>
				)}
			</ol>
		</section>
	);
}
