// What this house holds beyond the rules everybody has; part of `npm run lint`.

const READS = new Set(['text', 'json', 'arrayBuffer', 'blob', 'formData', 'bytes']);

/** What comes from outside is bounded in bytes and time by one helper. */
const readBounded = {
  create: (context) => ({
    CallExpression(node) {
      const { callee } = node;
      if (callee.type !== 'MemberExpression' || node.arguments.length > 0) return;
      if (!READS.has(callee.property.name)) return;
      context.report({
        node: callee,
        message: 'Read what comes from outside with readBounded (src/outside/read.ts).',
      });
    },
  }),
};

/** A signal made of others may be collected before it fires. */
const limitTime = {
  create: (context) => ({
    MemberExpression(node) {
      if (node.object.name !== 'AbortSignal' || node.property.name !== 'any') return;
      context.report({
        node,
        message: 'It may be collected and never fire: use limitTime (src/outside/limit.ts).',
      });
    },
  }),
};

export default { meta: { name: 'house' }, rules: { 'read-bounded': readBounded, 'limit-time': limitTime } };
