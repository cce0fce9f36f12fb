/** Which of several is taken, with what prompt, and for whom. */
import { type Query, rulesOf } from '@frelk/core';
import { nameOf } from '../../model/names';
import { useDeferredBench } from '../../model/use-bench';
import { Check } from '../../ui/controls';
import { ChooseEditor } from './editors/choose';
import { OutcomesEditor } from './editors/outcomes';
import { AskerEditor, type Change, Joint, partFields, Remove, Token } from './parts';
import { listWords, ruleWords } from './words';

export const Choosing = partFields(['choose', 'asker', 'ignore', 'outcomes', 'assist'], ({ query, change }) => {
	const rules = rulesOf(query);
	const take = query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);
	const order = rules.map(ruleWords).join(', then ');
	const text = take === 'all' ? `all, ${order} first` : take === 1 ? `the ${order}` : `up to ${take}, ${order}`;
	return (
		<>
			<Joint>; of several take</Joint>
			<Token part="Choice" wide text={text}>
				<ChooseEditor
					query={query}
					rules={rules}
					onChange={(choose) => change('Choice', (q) => void (q.choose = choose))}
				/>
			</Token>
			{query.asker !== undefined && query.kind !== 'hitbox' && <AskedBy query={query} change={change} />}
			{query.ignore !== undefined && <Ignoring query={query} change={change} />}
			{query.outcomes !== undefined && (
				<>
					<Joint>; with</Joint>
					<Token
						part="Prompts by tag"
						wide
						text={
							query.outcomes.length === 0
								? 'no prompt by tag yet'
								: `${query.outcomes.length} ${query.outcomes.length === 1 ? 'prompt' : 'prompts'} by tag`
						}
					>
						<OutcomesEditor
							outcomes={query.outcomes}
							hasAsker={query.asker !== undefined}
							onChange={(outcomes) => change('Outcomes', (q) => void (q.outcomes = outcomes))}
						/>
						<Remove onClick={() => change('Outcomes', (q) => void delete q.outcomes)} />
					</Token>
				</>
			)}
			<Joint>.</Joint>
		</>
	);
});

function AskedBy({ query, change }: { query: Query; change: Change }) {
	const project = useDeferredBench((s) => s.project);
	return (
		<>
			<Joint>, asked by</Joint>
			<Token part="Asker" text={nameOf(project, 'object', query.asker ?? '')}>
				<AskerEditor query={query} change={change} />
				<Remove onClick={() => change('Asker', (q) => q.kind !== 'hitbox' && void delete q.asker)} />
			</Token>
		</>
	);
}

function Ignoring({ query, change }: { query: Query; change: Change }) {
	const project = useDeferredBench((s) => s.project);
	const ignore = query.ignore ?? [];
	return (
		<>
			<Joint>, ignoring</Joint>
			<Token
				part="Ignored"
				text={
					ignore.length === 0
						? 'nothing'
						: listWords(
								ignore.map((id) => nameOf(project, 'object', id)),
								'and',
							)
				}
			>
				<div className="max-h-60 overflow-auto">
					{project.scene.objects.map((o) => (
						<Check
							key={o.id}
							label={o.name ?? o.id}
							checked={ignore.includes(o.id)}
							onChange={(on) =>
								change(
									'Ignored',
									(q) =>
										void (q.ignore = on ? [...(q.ignore ?? []), o.id] : (q.ignore ?? []).filter((id) => id !== o.id)),
								)
							}
						/>
					))}
				</div>
				<Remove onClick={() => change('Ignored', (q) => void delete q.ignore)} />
			</Token>
		</>
	);
}
