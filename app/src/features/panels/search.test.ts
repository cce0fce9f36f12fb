import { Answerer, buildWorld, type Query } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { expect, it } from 'vitest';
import { found } from './search';

const quay = () => example('harl-quay');

it('finds objects by name, tag family, layer, state and verdict, all words together', () => {
	const p = quay();
	const ids = (text: string, verdicts = new Map()) =>
		found(p, p.scene.objects, verdicts, text).flatMap((row) => (row.kind === 'object' ? [row.object.id] : []));
	const cameras = (text: string) =>
		found(p, p.scene.objects, new Map(), text).flatMap((row) => (row.kind === 'camera' ? [row.camera.id] : []));
	expect(ids('')).toHaveLength(p.scene.objects.length);
	expect(ids('gangway crank')).toEqual(['crank']);
	expect(ids('tag:crank')).toContain('crank');
	const layer = p.scene.objects.find((o) => o.id === 'crank')?.layer ?? '';
	expect(ids(`layer:${layer}`)).toEqual(p.scene.objects.filter((o) => o.layer === layer).map((o) => o.id));
	expect(cameras('')).toEqual(p.scene.cameras.map((c) => c.id));
	expect(cameras('camera')).toEqual(p.scene.cameras.map((c) => c.id));
	expect(cameras('tag:crank')).toEqual([]);
	expect(ids('nothing-like-it')).toEqual([]);
	expect(ids('layer:crank')).toEqual([]);
	const answer = new Answerer(buildWorld(p)).explain(p.queries[0] as Query);
	const verdicts = new Map(answer.verdicts.map((v) => [v.object, v]));
	expect(ids('verdict:selected', verdicts)).toEqual(answer.selected.map((s) => s.object));
	// A tag under another is found by the upper one too.
	const under = p.scene.tags.find((t) => t.under !== undefined);
	const carrier = p.scene.objects.find((o) => o.tags?.includes(under?.id ?? ''));
	if (under && carrier) expect(ids(`tag:${under.under}`)).toContain(carrier.id);
});
