export * from './kinds';
export { parseQuantity, tidy, type ParsedQuantity } from './parse';
export { counted, formatEntry, formatNumber, formatQuantity, toDisplay, toReading } from './format';
