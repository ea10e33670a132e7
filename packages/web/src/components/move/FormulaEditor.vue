<script setup lang="ts">
import { autocompletion, closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { bracketMatching, syntaxHighlighting } from '@codemirror/language';
import { setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap, placeholder } from '@codemirror/view';
import { FUNCTIONS, VARIABLES } from '@yoke/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { callAt, completeFormula, formulaColours, formulaLanguage, type FormulaNames } from '@/lib/formula-language';

/** A formula being written: coloured, completed, explained where the cursor is, its error under its place. */
const props = defineProps<{
  text: string;
  label: string;
  names: FormulaNames;
  error: { text: string; from: number; to: number } | null;
  example: string;
}>();
const emit = defineEmits<{ change: [text: string] }>();
const box = ref<HTMLElement>();
const hint = ref<ReturnType<typeof callAt>>(null);
const listing = ref(false);
let view: EditorView | undefined;
let timer: ReturnType<typeof setTimeout> | undefined;
/** Pause in typing after which the formula is taken over, ms. */
const PAUSE = 180;

function show(): void {
  if (!view) return;
  const length = view.state.doc.length;
  const { error } = props;
  const to = error ? Math.min(error.to, length) : 0;
  const diagnostics = error
    ? [{ from: Math.min(error.from, Math.max(0, to - 1)), to, severity: 'error' as const, message: error.text }]
    : [];
  view.dispatch(setDiagnostics(view.state, diagnostics));
}

onMounted(() => {
  view = new EditorView({
    parent: box.value!,
    state: EditorState.create({
      doc: props.text,
      extensions: [
        history(),
        closeBrackets(),
        bracketMatching(),
        formulaLanguage,
        syntaxHighlighting(formulaColours),
        autocompletion({ override: [(context) => completeFormula(context, props.names)], icons: false }),
        keymap.of([...closeBracketsKeymap, ...completionKeymap, ...historyKeymap, ...defaultKeymap]),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': props.label }),
        placeholder(props.example),
        EditorView.updateListener.of((update) => {
          if (update.selectionSet || update.docChanged)
            hint.value = callAt(update.state.doc.toString(), update.state.selection.main.head);
          if (!update.docChanged) return;
          clearTimeout(timer);
          timer = setTimeout(() => emit('change', view!.state.doc.toString()), PAUSE);
        }),
      ],
    }),
  });
  show();
});
onBeforeUnmount(() => {
  clearTimeout(timer);
  // What was typed last is not lost when the panel closes.
  const typed = view?.state.doc.toString();
  if (typed !== undefined && typed !== props.text) emit('change', typed);
  view?.destroy();
});
watch(
  () => props.text,
  (text) => {
    if (!view || view.hasFocus || view.state.doc.toString() === text) return;
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
  },
);
watch(() => props.error, show);

const pieces = computed(() => {
  if (!hint.value) return null;
  const { help, argument } = hint.value;
  const inside = help.call.slice(help.name.length + 1, -1).split(', ');
  return { name: help.name, inside, at: Math.min(argument, inside.length - 1), says: help.says };
});
</script>

<template>
  <div class="formula" :class="{ wrong: error }">
    <div ref="box" class="box" @keydown.stop />
    <p v-if="error" class="bad" role="alert">{{ error.text }}</p>
    <p v-if="pieces" class="hint">
      <code
        >{{ pieces.name }}(<template v-for="(part, i) in pieces.inside" :key="i"
          ><b :class="{ here: i === pieces.at }">{{ part }}</b
          ><template v-if="i < pieces.inside.length - 1">, </template></template
        >)</code
      >
      {{ pieces.says }}
    </p>
    <p v-else class="hint">
      <button type="button" class="plain list" :aria-expanded="listing" @click="listing = !listing">
        {{ listing ? 'Hide the words' : 'All words of the language' }}
      </button>
      Ctrl+Space completes.
    </p>
    <dl v-if="listing" class="words">
      <template v-for="word in [...VARIABLES, ...FUNCTIONS]" :key="word.name">
        <dt>
          <code>{{ word.call }}</code>
        </dt>
        <dd>{{ word.says }}</dd>
      </template>
      <dt><code>a &lt; b ? x : y</code></dt>
      <dd>x while the condition holds, else y; conditions join by and, or, not.</dd>
    </dl>
  </div>
</template>

<style scoped>
.box {
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--panel);
  min-height: 62px;
  max-height: 190px;
  overflow: auto;
}
.box:focus-within {
  border-color: var(--primary);
  outline: 1px solid var(--primary);
}
.wrong .box {
  border-color: var(--bad);
}
.box :deep(.cm-editor) {
  /* In the font of the figures round and square brackets look alike. */
  font: 14.5px/1.5 var(--words);
  color: var(--ink);
  outline: none;
}
.box :deep(.cm-content) {
  caret-color: var(--attention);
  padding: 5px 2px;
  font-family: var(--words);
}
.box :deep(.cm-cursor) {
  border-left-color: var(--attention);
}
.box :deep(.cm-selectionBackground),
.box :deep(.cm-focused .cm-selectionBackground) {
  background: var(--attention-soft) !important;
}
.box :deep(.cm-lintRange-error) {
  background: none;
  text-decoration: underline wavy var(--bad);
  text-underline-offset: 3px;
}
.box :deep(.cm-placeholder) {
  color: var(--ink-soft);
}
.box :deep(.cm-tooltip) {
  background: var(--panel);
  color: var(--ink);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  font: 12.5px var(--words);
}
.box :deep(.cm-tooltip-autocomplete ul li[aria-selected]) {
  background: var(--primary);
  color: var(--panel);
}
.bad,
.hint {
  margin: 3px 0 0;
  font-size: 12.5px;
}
.hint {
  color: var(--ink-soft);
}
.hint b {
  font-weight: 400;
}
.hint b.here {
  font-weight: 600;
  color: var(--ink);
}
.list {
  color: var(--primary);
  text-decoration: underline;
}
.words {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 12px;
  margin: 6px 0 0;
  font-size: 12.5px;
  max-height: 200px;
  overflow: auto;
}
.words dd {
  margin: 0;
  color: var(--ink-soft);
}
code {
  font: 500 12.5px var(--words);
}
</style>
