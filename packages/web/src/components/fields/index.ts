/** Fields and buttons that all of the page is built of. */
export { default as ChoiceField } from './ChoiceField.vue';
export { default as DeleteButton } from './DeleteButton.vue';
export { default as FileButton } from './FileButton.vue';
export { default as IconButton } from './IconButton.vue';
export { default as ManyField } from './ManyField.vue';
export { default as NameField } from './NameField.vue';
export { default as QuantityField } from './QuantityField.vue';
export { default as RowActions } from './RowActions.vue';
export { default as RowGrip } from './RowGrip.vue';
export { default as SchemaFields } from './SchemaFields.vue';
export { default as TickBox } from './TickBox.vue';
export { default as TimeLink } from './TimeLink.vue';
export { default as ToggleField } from './ToggleField.vue';
