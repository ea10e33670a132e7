/** A part of the tree of an assembly: a branch with what stands in it, or the name of a part. */
export interface Branch {
  name: string;
  parts: readonly (Branch | string)[];
}

/**
 * Gives a STEP file (ISO 10303-21) whose parts stand side by side the tree of an assembly; every part stays where it is.
 * @throws Error where a part of the tree is not in the file
 */
export function withBranches(step: string, tree: Branch): string {
  const text = step.replace(/\r?\n\s*/g, ' ');
  const entities = new Map([...text.matchAll(/#(\d+) = ([^;]*);/g)].map(([, id, of]) => [Number(id), of!]));
  const find = (pattern: RegExp): [id: number, match: RegExpExecArray] => {
    for (const [id, of] of entities) {
      const match = pattern.exec(of);
      if (match) return [id, match];
    }
    throw new Error(`The file has no ${pattern.source}.`);
  };
  let last = Math.max(...entities.keys());
  const made: string[] = [];
  const put = (of: string): number => {
    made.push(`#${++last} = ${of};`);
    return last;
  };
  const [, [, context]] = find(/^PRODUCT\('[^']*','[^']*','',\(#(\d+)\)\)$/);
  const [, [, definitionContext]] = find(/^PRODUCT_DEFINITION\('design','',#\d+,#(\d+)\)$/);
  /** What a usage goes by: the definition of a product, its shape, and a placement of it. */
  interface Used {
    definition: number;
    shape: number;
    placement: number;
    context: string;
  }
  const known = (name: string): Used => {
    const [product] = find(new RegExp(`^PRODUCT\\('${name}',`));
    const [formation] = find(new RegExp(`^PRODUCT_DEFINITION_FORMATION\\('','',#${product}\\)$`));
    const [definition] = find(new RegExp(`^PRODUCT_DEFINITION\\('design','',#${formation},`));
    const [property] = find(new RegExp(`^PRODUCT_DEFINITION_SHAPE\\('','',#${definition}\\)$`));
    const [, [, shape]] = find(new RegExp(`^SHAPE_DEFINITION_REPRESENTATION\\(#${property},#(\\d+)\\)$`));
    const of = entities.get(Number(shape))!;
    const [, first] = /,\(#(\d+)[,)]/.exec(of)!;
    const [, its] = /,#(\d+)\)$/.exec(of)!;
    return { definition, shape: Number(shape), placement: Number(first), context: its! };
  };
  const placement = (): number => {
    const origin = put("CARTESIAN_POINT('',(0.,0.,0.))");
    const [up, along] = [put("DIRECTION('',(0.,0.,1.))"), put("DIRECTION('',(1.,0.,0.))")];
    return put(`AXIS2_PLACEMENT_3D('',#${origin},#${up},#${along})`);
  };
  let usages = 0;
  const branch = ({ name, parts }: Branch): Used => {
    const used = parts.map((part) => (typeof part === 'string' ? { name: part, ...known(part) } : { name: part.name, ...branch(part) })); // prettier-ignore
    const product = put(`PRODUCT('${name}','${name}','',(#${context}))`);
    const formation = put(`PRODUCT_DEFINITION_FORMATION('','',#${product})`);
    const definition = put(`PRODUCT_DEFINITION('design','',#${formation},#${definitionContext})`);
    const property = put(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`);
    const own = placement();
    const places = used.map(() => placement());
    const shape = put(`SHAPE_REPRESENTATION('',(${[own, ...places].map((id) => `#${id}`).join(',')}),#${used[0]!.context})`); // prettier-ignore
    put(`SHAPE_DEFINITION_REPRESENTATION(#${property},#${shape})`);
    used.forEach((part, i) => {
      const usage = put(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('${++usages}','${part.name}','',#${definition},#${part.definition},$)`); // prettier-ignore
      const usedShape = put(`PRODUCT_DEFINITION_SHAPE('Placement','Placement of an item',#${usage})`);
      const moved = put(`ITEM_DEFINED_TRANSFORMATION('','',#${part.placement},#${places[i]})`);
      const relation = put(`( REPRESENTATION_RELATIONSHIP('','',#${part.shape},#${shape}) REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${moved}) SHAPE_REPRESENTATION_RELATIONSHIP() )`); // prettier-ignore
      put(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relation},#${usedShape})`);
    });
    return { definition, shape, placement: own, context: used[0]!.context };
  };
  branch(tree);
  const end = step.lastIndexOf('ENDSEC;');
  return `${step.slice(0, end)}${made.join('\n')}\n${step.slice(end)}`;
}
