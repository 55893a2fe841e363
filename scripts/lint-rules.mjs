// Rules of this house that no linter has: see .oxlintrc.json for where they hold.
const ASSIGNED = new Set(['**=']);

/** Powers of two and four are exact; others engines may round differently, as they may Math.pow. */
const exactPowers = {
  create(context) {
    const check = (node) => {
      if (node.operator !== '**' && !ASSIGNED.has(node.operator)) return;
      if (node.left.value === 2 || node.left.value === 4) return;
      context.report({ node, message: 'Engines may round it differently: multiply.' });
    };
    return { BinaryExpression: check, AssignmentExpression: check };
  },
};

export default { meta: { name: 'kenosis' }, rules: { 'exact-powers': exactPowers } };
