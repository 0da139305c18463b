<script setup lang="ts">
import { computed } from 'vue'
import ColumnSpark from './ColumnSpark.vue'
import TranslationList from './TranslationList.vue'
import type { Column, Field, Step } from '@/api/types'

const props = defineProps<{ column: Column; fields: Field[]; rows: number; open: boolean; locked: boolean }>()
const emit = defineEmits<{ toggle: []; step: [step: Step] }>()

const field = computed(() => props.fields.find((one) => one.name === props.column.field))
const translating = computed(() => props.column.translations.length > 0)
const wrong = computed(() => props.column.translations.filter((one) => one.how === 'wrong').length)
const why = computed(() => [props.column.reason, props.column.reads].filter(Boolean).join(' · '))

function pair(event: Event): void {
  const to = (event.target as HTMLSelectElement).value
  emit('step', { kind: 'pair', heading: props.column.heading, field: to || null })
}
</script>

<template>
  <section class="column" :class="{ open }">
    <div class="strip" @click.self="emit('toggle')">
      <span class="letter">{{ column.letter }}</span>
      <button class="plain heading" :aria-expanded="open" @click="emit('toggle')">{{ column.heading || 'no heading' }}</button>
      <ColumnSpark :parts="column.spark" :rows="rows" />
      <span class="lead" :class="{ gone: !column.field, unsure: column.field && !column.certain }" />
      <span v-if="column.secret" class="to none">not taken: a secret</span>
      <select v-else class="box to" :class="{ none: !column.field, unsure: column.field && !column.certain }" :value="column.field ?? ''" :disabled="locked" :aria-label="`Field for ${column.heading}`" @change="pair">
        <option value="">left in the file</option>
        <option v-for="one in fields" :key="one.name" :value="one.name">{{ one.title }}</option>
      </select>
      <button class="plain why" :title="why" @click="emit('toggle')">
        {{ why }}<b v-if="wrong" class="bad"> · {{ wrong }} to translate</b><span v-if="translating" class="more" aria-hidden="true">{{ open ? ' ▴' : ' ▾' }}</span>
      </button>
    </div>
    <div v-if="open" class="under">
      <TranslationList v-if="field && translating" :translations="column.translations" :field="field" :locked="locked" @step="(step) => emit('step', step)" />
      <ul v-else class="parts">
        <li v-for="part in column.spark" :key="part.text"><span class="n">{{ part.rows }}</span> {{ part.kind === 'secret' ? 'values, never stored; ask the office not to send them' : part.text }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.column { background: var(--snow); border-bottom: 1px solid var(--drift); }
.column.open { outline: 1px solid var(--ink); border-left: 3px solid var(--ink); position: relative; z-index: 1; }
.column.open .strip { margin-left: -3px; }
.strip { display: grid; grid-template-columns: 26px 150px 200px 30px 172px 1fr; align-items: center; min-height: 36px; }
.letter { text-align: right; padding-right: 8px; color: var(--ink2); }
.heading { font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; padding-right: 10px; }
.lead { height: 2px; background: var(--fir); margin-right: 4px; }
.lead.gone { background: none; }
.lead.unsure { background: repeating-linear-gradient(90deg, var(--waiting) 0 5px, transparent 5px 9px); }
.to { width: 158px; }
.to.none { border-style: dashed; background: none; color: var(--ink2); }
span.to { border: 1px dashed var(--line); padding: 3px 8px; font-size: 13.5px; line-height: 20px; }
.to.unsure { background: var(--ask-soft); border-color: var(--waiting); }
.why { color: var(--ink2); font-size: 13px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; padding-right: 10px; min-height: 36px; }
.under { padding: 2px 12px 10px 23px; }
.parts { display: flex; flex-wrap: wrap; gap: 4px 22px; font-size: 13px; color: var(--ink2); }
.parts .n { color: var(--ink); font-weight: 600; }
</style>
