<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import FieldEditor from './FieldEditor.vue'
import type { Field, Finding, RowField } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { show, typed } from '@/logic/words'

const props = defineProps<{
  name: string
  value: RowField
  field: Field | undefined
  findings: Finding[]
  editing: boolean
  locked: boolean
}>()
const emit = defineEmits<{ edit: []; set: [value: string]; leave: [] }>()

const catalog = useCatalog()
const editor = ref<InstanceType<typeof FieldEditor>>()
const draft = ref('')
const stop = computed(() => props.findings.find((one) => one.weight === 'stop'))
const ask = computed(() => props.findings.find((one) => one.weight === 'ask' && !one.waived))
const label = computed(() =>
  typeof props.value.value === 'string' && props.field?.code_list
    ? catalog.label(props.field.code_list, props.value.value)
    : '',
)
const shown = computed(() => show(props.value.value, props.field?.type))
/** What the file said, where the roster would keep it otherwise. */
const said = computed(() =>
  !stop.value &&
  props.field?.type !== 'date' &&
  props.value.repair &&
  props.value.raw !== shown.value &&
  props.value.raw !== label.value
    ? `file said “${props.value.raw}”`
    : '',
)

watch(
  () => props.editing,
  (now) =>
    (draft.value = now
      ? (stop.value?.suggestions[0] ??
        (stop.value && props.field?.code_list ? '' : typed(props.value.value)))
      : ''),
  { immediate: true },
)

defineExpose({ name: props.name, focus: () => editor.value?.focus() })
</script>

<template>
  <dt :class="{ bad: stop }">{{ value.title }}</dt>
  <dd>
    <FieldEditor
      v-if="editing && field"
      ref="editor"
      v-model="draft"
      :field="field"
      :disabled="locked"
      @done="emit('set', draft.trim())"
      @leave="emit('leave')"
    />
    <button
      v-else
      class="plain value"
      :class="{ mono: field?.mono, wrong: stop }"
      :disabled="locked"
      :title="locked ? '' : 'Edit'"
      @click="emit('edit')"
    >
      <template v-if="value.is_changed"
        ><span class="was">{{ show(value.old, field?.type) || 'empty' }}</span
        ><span class="arrow">→</span><b class="will">{{ shown || 'empty' }}</b></template
      >
      <template v-else-if="stop">{{ value.raw || 'empty' }}</template>
      <template v-else-if="shown.includes('@')"
        >{{ shown.split('@')[0] }}<wbr />@{{ shown.split('@').slice(1).join('@') }}</template
      >
      <template v-else>{{ shown || '–' }}</template>
      <span v-if="label && !stop" class="soft label">{{ label }}</span>
    </button>
    <p v-if="stop" class="why">
      {{ stop.message }}
      <button
        v-for="one in stop.suggestions"
        :key="one"
        class="btn fir"
        :disabled="locked"
        @click="emit('set', one)"
      >
        Use {{ one }}
      </button>
    </p>
    <p v-if="ask" class="why">{{ ask.message }}</p>
    <p v-if="said" class="soft">{{ said }}</p>
  </dd>
</template>

<style scoped>
dt,
dd {
  padding: 4px 0;
  border-top: 1px solid var(--drift);
  line-height: 18px;
  min-width: 0;
}
dt {
  color: var(--ink2);
  padding-right: 6px;
}
dt.bad {
  color: var(--stopped-ink);
}
.value {
  width: 100%;
  overflow-wrap: anywhere;
  font-size: 13px;
  line-height: 18px;
  min-height: 18px;
  color: var(--ink);
}
.value:hover:not(:disabled) {
  background: var(--shade);
  box-shadow: 0 0 0 2px var(--shade);
}
.value:disabled {
  cursor: default;
}
.value.wrong {
  color: var(--stopped-ink);
}
.label {
  font-family: var(--text);
  margin-left: 5px;
}
.why {
  font-size: 12.5px;
  line-height: 17px;
  color: var(--ink2);
  margin-top: 3px;
  overflow-wrap: anywhere;
}
.why .btn {
  margin: 4px 4px 0 0;
  padding: 1px 8px;
  display: inline-block;
}
dd p.soft {
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
</style>
