import { styleTags, tags } from '@lezer/highlight';

/** Which part of a formula is what, for editors. */
export const highlighting = styleTags({
	Number: tags.number,
	Text: tags.string,
	'FunctionName/...': tags.function(tags.variableName),
	'Name/...': tags.variableName,
	'ArithOp CompareOp Percent': tags.operator,
	'( )': tags.paren
});
