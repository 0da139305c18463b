<script setup lang="ts">
import { computed } from 'vue'
import { byTitle } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ColumnCutter from './ColumnCutter.vue'
import ColumnSpark from './ColumnSpark.vue'
import FillValue from './FillValue.vue'
import TranslationList from './TranslationList.vue'
import type { Column, Field, Step } from '@/api/types'
import { counted } from '@/logic/words'

const props = defineProps<{
  column: Column
  fields: Field[]
  rows: number
  open: boolean
  locked: boolean
}>()
const emit = defineEmits<{
  toggle: []
  step: [step: Step]
  pair: [heading: string, field: string | null]
}>()

const LEFT = { value: '', label: 'left in the file' }
const field = computed(() => props.fields.find((one) => one.name === props.column.field))
const translating = computed(() => props.column.translations.length > 0)
const wrong = computed(() => props.column.translations.filter((one) => one.how === 'wrong').length)
const why = computed(() => [props.column.reason, props.column.reads].filter(Boolean).join(' · '))

const titleOf = (name: string) => props.fields.find((one) => one.name === name)?.title ?? name
/** What an uncertain column may be for, the one that is taken first: a click settles it. */
const choices = computed(() => {
  if (props.column.certain || !props.column.field) return []
  const now = props.column.parts.length
    ? []
    : [{ field: props.column.field, reason: 'as it is taken now' }]
  return [...now, ...props.column.others]
})

function sendTo(field: string | null): void {
  emit('pair', props.column.heading, field)
}

/** What was guessed is right: the same, by hand, so that it is certain and remembered. */
function confirm(): void {
  const { heading, parts, at, field } = props.column
  if (parts.length) emit('step', { kind: 'split', heading, at, into: parts })
  else emit('pair', heading, field)
}
</script>

<template>
  <section class="column" :class="{ open }">
    <div class="strip" @click.self="emit('toggle')">
      <span class="letter">{{ column.letter }}</span>
      <button class="plain heading" :aria-expanded="open" @click="emit('toggle')">
        {{ column.heading || 'no heading' }}
      </button>
      <ColumnSpark :parts="column.spark" :rows="rows" />
      <span
        class="lead"
        :class="{ gone: !column.field, unsure: column.field && !column.certain }"
      />
      <span v-if="column.secret" class="to left">not taken: a secret</span>
      <button
        v-else-if="column.parts.length"
        class="box to plain parts-of"
        :class="{ unsure: !column.certain }"
        @click="emit('toggle')"
      >
        {{ column.parts.map(titleOf).join(' + ') }}
      </button>
      <ChooseOne
        v-else
        class="to"
        :tone="!column.field ? 'none' : column.certain ? undefined : 'ask'"
        :model-value="column.field ?? ''"
        :options="[LEFT, ...byTitle(fields)]"
        :label="`Field for ${column.heading}`"
        :disabled="locked"
        @update:model-value="(name) => sendTo(name || null)"
      />
      <button class="plain why" :title="why" @click="emit('toggle')">
        {{ why }}<b v-if="wrong" class="bad"> · {{ wrong }} to translate</b
        ><span v-if="translating" class="more" aria-hidden="true">{{ open ? ' ▴' : ' ▾' }}</span>
      </button>
    </div>
    <div v-if="open" class="under">
      <p v-if="choices.length || (column.field && !column.certain)" class="choices">
        <span class="soft">Not certain.</span>
        <button v-if="column.parts.length" class="btn fir" :disabled="locked" @click="confirm">
          It is right
        </button>
        <button
          v-for="one in choices"
          :key="one.field"
          class="btn"
          :class="{ fir: one.field === column.field }"
          :disabled="locked"
          :title="one.reason"
          @click="one.field === column.field ? confirm() : sendTo(one.field)"
        >
          {{ titleOf(one.field) }}
        </button>
        <button class="btn" :disabled="locked" @click="sendTo(null)">Leave it in the file</button>
      </p>
      <TranslationList
        v-if="field && translating"
        :translations="column.translations"
        :field="field"
        :locked="locked"
        @step="(step) => emit('step', step)"
      />
      <ul v-else class="parts">
        <li v-for="part in column.spark" :key="part.text">
          <span class="n">{{ part.rows }}</span>
          {{
            part.kind === 'secret'
              ? 'values, never stored; ask the office not to send them'
              : part.text
          }}
        </li>
      </ul>
      <p v-if="field && column.empty" class="fills">
        <span>{{ counted(column.empty, 'row has', 'rows have') }} nothing here: fill with</span
        ><FillValue
          :fill="column.fill ?? null"
          :name="field.name"
          :field="field"
          :locked="locked"
          @step="(step) => emit('step', step)"
        />
      </p>
      <details v-if="!column.secret && !translating" :open="column.parts.length > 0">
        <summary>Several fields in one cell</summary>
        <ColumnCutter
          :key="column.heading + column.parts.join()"
          :column="column"
          :fields="fields"
          :locked="locked"
          @step="(step) => emit('step', step)"
        />
      </details>
    </div>
  </section>
</template>

<style scoped>
.column {
  background: var(--snow);
  border-bottom: 1px solid var(--drift);
}
.column.open {
  outline: 1px solid var(--ink);
  border-left: 3px solid var(--ink);
  position: relative;
  z-index: 1;
}
.column.open .strip {
  margin-left: -3px;
}
.strip {
  display: grid;
  grid-template-columns: 26px 150px 200px 30px 172px 1fr;
  align-items: center;
  min-height: 36px;
}
.letter {
  text-align: right;
  padding-right: 8px;
  color: var(--ink2);
}
.heading {
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding-right: 10px;
}
.lead {
  height: 2px;
  background: var(--fir);
  margin-right: 4px;
}
.lead.gone {
  background: none;
}
.lead.unsure {
  background: repeating-linear-gradient(90deg, var(--waiting) 0 5px, transparent 5px 9px);
}
.to {
  width: 158px;
}
.left {
  color: var(--ink2);
  border: 1px dashed var(--line);
  padding: 3px 8px;
  font-size: 13.5px;
  line-height: 20px;
}
.parts-of.unsure {
  background: var(--ask-soft);
  border-color: var(--waiting);
}
.why {
  color: var(--ink2);
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding-right: 10px;
  min-height: 36px;
}
.under {
  padding: 2px 12px 10px 23px;
}
.fills {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0 6px;
  font-size: 13px;
}
.choices {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  margin: 4px 0 6px;
  font-size: 13px;
}
details {
  margin-top: 6px;
  font-size: 13px;
}
summary {
  color: var(--fir);
  cursor: pointer;
  width: max-content;
}
.parts-of {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  text-align: left;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  font-size: 13px;
  color: var(--ink2);
}
.parts .n {
  color: var(--ink);
  font-weight: 600;
}
</style>
