import ts from 'typescript';

/** A text that somebody may read: its line (from 1), and itself with `{…}` where a value is put in. */
interface Text {
  line: number;
  text: string;
}

/** Attributes whose strings are never read by a person. */
const SILENT_ATTRIBUTES =
  /^(className|class|id|key|href|src|type|role|name|d|data-.*|aria-(?!label$|description$|valuetext$|roledescription$).*|viewBox|fill|stroke.*|transform|style|method|accept|as|rel|target|htmlFor|autoComplete|inputMode|pointerEvents|.*ClassName|anchor|side|to|from|tone|kind|mode|variant|size)$/;
/** Calls whose strings are class names, selectors, keys or places. */
const SILENT_CALLS =
  /^(clsx|require|import|fetch|useState<.*|querySelector|querySelectorAll|getElementById|addEventListener|removeEventListener|dispatchEvent|getItem|setItem|getContext|startsWith|endsWith|includes|split|join|createElement|postMessage|query|log|warn|info|debug|child)$/;
/** SQL, selectors, class lists and paths look like text and are none. */
const NOT_TEXT =
  /^(\s*(select|insert|update|delete|with|create|alter|begin|commit|rollback|set|truncate|lock|vacuum|analyze|listen|notify|cluster|exists|jsonb|and|or|not|coalesce|case|on conflict)\b[\s\S]*)$|^[/#.@][\w[{]|^use (client|server|strict)$|^\s*$|^[\w-]+:[\w-]+$|^(image|audio|text|application|font|video)\//;

const callee = (node: ts.CallExpression | ts.NewExpression) =>
  ts.isPropertyAccessExpression(node.expression) ? node.expression.name.text : node.expression.getText();

/** Whether the value of a node is read by a person only by chance: types, imports, keys, class names, comparisons. */
function isSilent(node: ts.Node): boolean {
  for (let child = node, at = node.parent; at; child = at, at = at.parent) {
    if (ts.isImportDeclaration(at) || ts.isExportDeclaration(at) || ts.isTypeNode(at)) return true;
    if (ts.isJsxAttribute(at)) return SILENT_ATTRIBUTES.test(at.name.getText());
    if (ts.isCallExpression(at) && child !== at.expression && SILENT_CALLS.test(callee(at))) return true;
    if (
      ts.isPropertyAssignment(at) &&
      (at.name === child ||
        /^(className|kind|do|id|code|path|method|color|font|style)$/.test(at.name.getText()))
    )
      return true;
    if (ts.isElementAccessExpression(at) && at.argumentExpression === child) return true;
    if (ts.isCaseClause(at) && at.expression === child) return true;
    if (ts.isBinaryExpression(at) && /^[=!]==?$/.test(at.operatorToken.getText())) return true;
    if (ts.isTaggedTemplateExpression(at)) return true;
    if (ts.isStatement(at) || ts.isFunctionLike(at)) return false;
  }
  return false;
}

/** Whether a string reads as words rather than as a code, a class list or a path. */
const isWords = (text: string) => {
  if (NOT_TEXT.test(text) || !/\p{L}/u.test(text)) return false;
  // Class lists: every word is a utility of lower case with a dash, a colon or a bracket in most of them.
  const words = text.trim().split(/\s+/);
  const utilities = words.filter((word) => /^!?-?[a-z]+[a-z0-9/.]*([-:[][^\s]*)+$/.test(word)).length;
  if (words.length > 1)
    return (
      utilities < words.length / 2 &&
      !/\b(flex|grid|absolute|relative|truncate|hidden|border)\b.*[-:]/.test(text)
    );
  return /^\p{Lu}/u.test(text) || /[…?!]$/.test(text);
};

/**
 * All texts of a source file in their order: text between tags, strings and templates that read as words.
 * A template's values are shown as `{…}`.
 */
export function textsOf(source: ts.SourceFile): Text[] {
  const found: Text[] = [];
  const add = (node: ts.Node, text: string) => {
    const plain = text.replace(/\s+/g, ' ').trim();
    if (plain)
      found.push({ line: source.getLineAndCharacterOfPosition(node.getStart()).line + 1, text: plain });
  };
  const visit = (node: ts.Node) => {
    if (ts.isJsxText(node)) {
      if (/\p{L}/u.test(node.text)) add(node, node.text);
    } else if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (isTextAttribute(node) ? /\p{L}/u.test(node.text) : !isSilent(node) && isWords(node.text))
        add(node, node.text);
      else if (isShown(node) && /\p{L}/u.test(node.text)) add(node, node.text);
    } else if (ts.isTemplateExpression(node)) {
      const text = node.head.text + node.templateSpans.map((span) => `{…}${span.literal.text}`).join('');
      if (!isSilent(node) && isWords(text.replaceAll('{…}', 'x'))) add(node, text);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** A label, title or the like, however short. */
const isTextAttribute = (node: ts.Node) =>
  ts.isJsxAttribute(node.parent) &&
  /^(label|title|aria-label|placeholder|alt|words|hint|unit|heading|summary)$/.test(
    node.parent.name.getText(),
  );

/** A string that stands between tags as the value of an expression. */
function isShown(node: ts.Node): boolean {
  let at = node.parent;
  while (ts.isConditionalExpression(at) || ts.isParenthesizedExpression(at)) at = at.parent;
  if (!ts.isJsxExpression(at)) return false;
  return !ts.isJsxAttribute(at.parent);
}
