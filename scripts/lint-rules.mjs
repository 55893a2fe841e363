// Rules of this house that no linter has; .oxlintrc.json says where they hold.

/** Engines round these differently; numeric/exact.ts has what the core needs. */
const INEXACT = new Set(['sin', 'cos', 'tan', 'atan', 'atan2', 'hypot', 'exp', 'pow', 'log', 'cbrt']);

/** Powers of these are exact. */
const EXACT_BASES = new Set([2, 4]);

const exactArithmetic = {
  create(context) {
    const checkPower = (node) => {
      if ((node.operator === '**' || node.operator === '**=') && !EXACT_BASES.has(node.left.value))
        context.report({ node, message: 'Engines may round it differently: multiply.' });
    };
    return {
      BinaryExpression: checkPower,
      AssignmentExpression: checkPower,
      MemberExpression(node) {
        if (node.object.name === 'Math' && INEXACT.has(node.property.name ?? node.property.value))
          context.report({ node, message: 'Engines round it differently; use numeric/exact.ts.' });
      },
    };
  },
};

export default { meta: { name: 'kenosis' }, rules: { 'exact-arithmetic': exactArithmetic } };
