/** How the figures of a drawing are painted: attributes, style sheets and style attributes, what is handed down and what is not. */
import { type CssNode, parse, walk } from 'css-tree';

/** What of painting says whether, and how far, a figure is there. */
const INHERITED = [
	'fill',
	'fill-rule',
	'clip-rule',
	'stroke',
	'stroke-width',
	'stroke-linecap',
	'stroke-linejoin',
	'stroke-miterlimit',
	'visibility',
	'pointer-events',
] as const;
const OWN = ['display', 'clip-path', 'vector-effect'] as const;

type Property = (typeof INHERITED)[number] | (typeof OWN)[number];
export type Style = Readonly<Record<Property, string>>;

/** What a drawing begins with. */
export const INITIAL: Style = {
	fill: 'black',
	'fill-rule': 'nonzero',
	'clip-rule': 'nonzero',
	stroke: 'none',
	'stroke-width': '1',
	'stroke-linecap': 'butt',
	'stroke-linejoin': 'miter',
	'stroke-miterlimit': '4',
	visibility: 'visible',
	'pointer-events': 'auto',
	display: 'inline',
	'clip-path': 'none',
	'vector-effect': 'none',
};

const PROPERTIES = new Set<string>([...INHERITED, ...OWN]);

/** An element as selectors see it. */
export interface Styled {
	name: string;
	attributes: Readonly<Record<string, string>>;
	parent: Styled | null;
}

/** One element of a selector: all that has to hold of it. */
interface Compound {
	name: string | null;
	id: string | null;
	classes: string[];
	/** How it stands to what is before it in the selector. */
	after: ' ' | '>' | null;
}

interface Rule {
	/** The last first. */
	compounds: Compound[];
	specificity: number;
	order: number;
	says: [Property, string][];
}

/** Rules that are read; more are a style sheet of something else. */
const MAX_RULES = 2000;

type Plain = { type: string; name?: string; value?: unknown; children?: Iterable<Plain>; [key: string]: unknown };

/** @returns the selector, or null for one of a kind that is not read */
function compoundsOf(selector: Plain): { compounds: Compound[]; specificity: number } | null {
	const compounds: Compound[] = [{ name: null, id: null, classes: [], after: null }];
	let specificity = 0;
	for (const part of selector.children ?? []) {
		const last = compounds.at(-1) as Compound;
		const name = part.name ?? '';
		if (part.type === 'TypeSelector') {
			if (name !== '*') {
				last.name = name.replace(/^.*\|/, '');
				specificity += 1;
			}
		} else if (part.type === 'ClassSelector') {
			last.classes.push(name);
			specificity += 1000;
		} else if (part.type === 'IdSelector') {
			last.id = name;
			specificity += 1_000_000;
		} else if (part.type === 'Combinator' && (name === ' ' || name === '>'))
			compounds.push({ name: null, id: null, classes: [], after: name });
		else return null;
	}
	return { compounds: compounds.reverse(), specificity };
}

function declarations(block: Plain, text: string): [Property, string][] {
	const says: [Property, string][] = [];
	for (const one of block.children ?? []) {
		const property = String(one.property ?? '').toLowerCase();
		const value = one.value as Plain | undefined;
		const loc = value?.loc as { start: { offset: number }; end: { offset: number } } | undefined;
		if (one.type === 'Declaration' && PROPERTIES.has(property) && loc)
			says.push([property as Property, text.slice(loc.start.offset, loc.end.offset).trim()]);
	}
	return says;
}

/** The style sheets of a drawing. */
export class Sheets {
	/** By the class, id or name of what they end with: of thousands of rules few speak of an element. */
	private readonly by = new Map<string, Rule[]>();
	private count = 0;
	/** How many rules were of no use: of a kind that is not read, or too many. */
	skipped = 0;

	add(text: string): void {
		const tree = parse(text, { positions: true, onParseError: () => {} });
		// What holds for paper, or on conditions, does not hold for the drawing as it is seen.
		const conditional = new WeakSet<object>();
		walk(tree, {
			visit: 'Atrule',
			enter: (node) => {
				const condition = node.prelude ? text.slice(node.prelude.loc?.start.offset, node.prelude.loc?.end.offset) : '';
				if (node.name === 'media' && /^\s*(all|screen)\s*$/.test(condition)) return;
				if (node.block) walk(node.block, (inner) => void conditional.add(inner));
			},
		});
		walk(tree, {
			visit: 'Rule',
			enter: (node: CssNode) => {
				const rule = node as unknown as { prelude: Plain; block: Plain };
				if (conditional.has(node)) return;
				const says = declarations(rule.block, text);
				if (says.length === 0 || rule.prelude.type !== 'SelectorList') return;
				for (const selector of rule.prelude.children ?? []) {
					const found = compoundsOf(selector);
					if (!found || this.count >= MAX_RULES) {
						this.skipped++;
						continue;
					}
					const [last] = found.compounds;
					const key = last?.id ? `#${last.id}` : last?.classes[0] ? `.${last.classes[0]}` : (last?.name ?? '*');
					const list = this.by.get(key) ?? [];
					list.push({ ...found, order: this.count++, says });
					this.by.set(key, list);
				}
			},
		});
	}

	/** What the sheets say of an element, what counts most last. */
	private said(element: Styled): [Property, string][] {
		if (this.count === 0) return [];
		const { id, class: classes = '' } = element.attributes;
		const keys = ['*', element.name, ...(id === undefined ? [] : [`#${id}`])];
		for (const name of new Set(classes.split(/\s+/))) keys.push(`.${name}`);
		const rules = keys.flatMap((key) => this.by.get(key) ?? []).filter((rule) => matches(rule.compounds, element));
		rules.sort((a, b) => a.specificity - b.specificity || a.order - b.order);
		return rules.flatMap((rule) => rule.says);
	}

	/** How an element is painted. @param above how that is which it is in */
	styleOf(element: Styled, above: Style): Style {
		const style = { ...above } as Record<Property, string>;
		for (const property of OWN) style[property] = INITIAL[property];
		const set = (property: Property, value: string) => {
			const plain = value.replace(/\s*!important$/, '').trim();
			if (plain === 'inherit') style[property] = above[property];
			else if (plain !== '') style[property] = plain;
		};
		for (const property of PROPERTIES as Set<Property>) {
			const value = element.attributes[property];
			if (value !== undefined) set(property, value);
		}
		for (const [property, value] of this.said(element)) set(property, value);
		for (const part of (element.attributes.style ?? '').split(';')) {
			const at = part.indexOf(':');
			const property = part.slice(0, at).trim().toLowerCase();
			if (at > 0 && PROPERTIES.has(property)) set(property as Property, part.slice(at + 1));
		}
		return style;
	}
}

function holds({ name, id, classes }: Compound, element: Styled): boolean {
	if (name !== null && name !== element.name) return false;
	if (id !== null && id !== element.attributes.id) return false;
	if (classes.length === 0) return true;
	const own = (element.attributes.class ?? '').split(/\s+/);
	return classes.every((c) => own.includes(c));
}

/**
 * Whether a selector holds of an element and those it is in; the last of a selector is the first here. All ways are followed side by side on
 * the way up, so that none is gone twice.
 */
function matches(compounds: readonly Compound[], element: Styled): boolean {
	if (!holds(compounds[0] as Compound, element)) return false;
	const last = compounds.length - 1;
	if (last === 0) return true;
	let wanted = new Set([1]);
	for (let above = element.parent; above && wanted.size > 0; above = above.parent) {
		const next = new Set<number>();
		for (const at of wanted) {
			if (holds(compounds[at] as Compound, above)) {
				if (at === last) return true;
				next.add(at + 1);
			}
			if (compounds[at - 1]?.after === ' ') next.add(at);
		}
		wanted = next;
	}
	return false;
}
