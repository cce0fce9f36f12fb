/** Who may be selected: layers, tags, conditions, stances, roles. */
import { useDeferredBench } from '../../model/use-bench';
import { Check } from '../../ui/controls';
import { ConditionsEditor } from './editors/conditions';
import { LayersEditor } from './editors/layers';
import { TagsEditor } from './editors/tags';
import { Joint, partFields, Remove, Token } from './parts';
import { conditionsWords, layersWords, listWords, tagsWords } from './words';

export const Filters = partFields(['selects'], ({ query, change }) => {
	const layers = useDeferredBench((s) => layersWords(s.project, query.selects?.layers));
	const selects = query.selects;
	const tags = tagsWords(query);
	return (
		<>
			<Joint>, find</Joint>
			<Token part="Layers to choose from" text={layers}>
				<LayersEditor
					layers={selects?.layers ?? 'all'}
					onChange={(layers) => change('Layers', (q) => void (q.selects = { ...q.selects, layers }))}
				/>
			</Token>
			{selects?.tags !== undefined && (
				<>
					{' '}
					tagged
					<Token part="Tags" text={tags || 'anything'}>
						<TagsEditor
							query={query}
							onChange={(next) => change('Tags', (q) => void (q.selects = { ...q.selects, tags: next }))}
						/>
						<Remove onClick={() => change('Tags', (q) => q.selects && void delete q.selects.tags)} />
					</Token>
				</>
			)}
			{selects?.when !== undefined && (
				<>
					{' '}
					where
					<Token part="Conditions" wide text={conditionsWords(query) || 'no condition'}>
						<ConditionsEditor
							when={selects.when}
							hasAsker={query.asker !== undefined}
							onChange={(when) => change('Conditions', (q) => void (q.selects = { ...q.selects, when }))}
						/>
						<Remove onClick={() => change('Conditions', (q) => q.selects && void delete q.selects.when)} />
					</Token>
				</>
			)}
			{selects?.stances !== undefined && (
				<>
					{' '}
					regarded as
					<Token part="Stances" text={listWords(selects.stances, 'or')}>
						<Choices
							options={['hostile', 'neutral', 'friendly']}
							chosen={selects.stances}
							onChange={(stances) => change('Stances', (q) => void (q.selects = { ...q.selects, stances }))}
						/>
						<Remove onClick={() => change('Stances', (q) => q.selects && void delete q.selects.stances)} />
					</Token>
				</>
			)}
			{selects?.roles !== undefined && (
				<>
					{' '}
					by their
					<Token part="Roles" text={`${listWords(selects.roles, 'or')} shapes`}>
						<Choices
							options={['solid', 'sensor']}
							chosen={selects.roles}
							onChange={(roles) => change('Roles', (q) => void (q.selects = { ...q.selects, roles }))}
						/>
						<Remove onClick={() => change('Roles', (q) => q.selects && void delete q.selects.roles)} />
					</Token>
				</>
			)}
		</>
	);
});

/** Ticks of which at least one stays. */
function Choices<T extends string>({
	options,
	chosen,
	onChange,
}: {
	options: readonly T[];
	chosen: readonly T[];
	onChange: (chosen: T[]) => void;
}) {
	return options.map((option) => (
		<Check
			key={option}
			label={option}
			checked={chosen.includes(option)}
			onChange={(on) => {
				const next = options.filter((o) => (o === option ? on : chosen.includes(o)));
				if (next.length > 0) onChange(next);
			}}
		/>
	));
}
