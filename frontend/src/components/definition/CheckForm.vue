<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import ConditionEditor from './ConditionEditor.vue'
import type { CheckDocument, CheckKind, Condition, FieldDocument } from '@/api/types'
import { condition } from '@/logic/definition'
import { HOWS, readOption, showOption } from '@/logic/options'

const props = defineProps<{ kinds: CheckKind[]; fields: FieldDocument[]; locked: boolean }>()
const emit = defineEmits<{ drop: [] }>()
const check = defineModel<CheckDocument>({ required: true })

const kind = computed(() => props.kinds.find((one) => one.name === check.value.check))
const options = computed(() => [...(kind.value?.needs ?? []), ...(kind.value?.takes ?? [])])
const kindOf = (name: string) => kind.value?.kinds[name] ?? ''
const conditions = computed(() => options.value.filter((one) => kindOf(one) === 'condition'))
const others = computed(() => options.value.filter((one) => kindOf(one) !== 'condition'))
const HINTS: Record<string, string> = { bands: '16-17; 18-99', texts: 'one; another', fields: 'one; another', rosters: 'roster.field', day: '2026-09-01 or today' }
const text = (event: Event) => (event.target as HTMLInputElement).value.trim()

function set(name: string, value: unknown): void {
  const rest = Object.fromEntries(Object.entries(check.value).filter(([key]) => key !== name)) as CheckDocument
  check.value = value === '' || value === undefined || value === false ? rest : { ...rest, [name]: value }
}


function tick(name: string, on: boolean): void {
  set('fields', on ? [...check.value.fields, name] : check.value.fields.filter((one) => one !== name))
}
const first = () => condition(props.fields[0]?.name ?? '', 'is', '')
</script>

<template>
  <article class="check" :class="{ off: check.off }">
    <p class="head">
      <b>{{ check.check }}</b><span class="soft">{{ kind?.holds }}</span><span class="grow" />
      <select class="box" :value="check.weight ?? kind?.weight" :disabled="locked" aria-label="Weight" @change="set('weight', text($event))"><option value="stop">stops</option><option value="ask">asks</option><option value="note">notes</option></select>
      <label><input type="checkbox" :checked="!check.off" :disabled="locked" @change="set('off', !($event.target as HTMLInputElement).checked)" /> on</label>
      <button v-if="!locked" type="button" class="btn" @click="emit('drop')">Take away</button>
    </p>
    <p v-if="kind?.most" class="of">
      <span class="soft">of</span>
      <select class="box" :disabled="locked || check.fields.length >= kind.most" aria-label="Add a field" @change="tick(text($event), true); ($event.target as HTMLSelectElement).value = ''"><option value="">add a field</option><option v-for="one in fields.filter((two) => !check.fields.includes(two.name))" :key="one.name" :value="one.name">{{ one.title ?? one.name }}</option></select>
      <button v-for="name in check.fields" :key="name" type="button" class="btn" :disabled="locked" :title="`Take ${name} away`" @click="tick(name, false)">{{ fields.find((one) => one.name === name)?.title ?? name }} ×</button>
    </p>
    <p v-if="others.length" class="of">
      <label v-for="name in others" :key="name">
        {{ name }}
        <input v-if="kindOf(name) === 'flag'" type="checkbox" :checked="check[name] === true" :disabled="locked" @change="set(name, ($event.target as HTMLInputElement).checked)" />
        <select v-else-if="kindOf(name) === 'how'" class="box" :value="check[name] ?? ''" :disabled="locked" @change="set(name, text($event))"><option v-for="one in HOWS" :key="one">{{ one }}</option></select>
        <TextBox v-else class="box" :model-value="showOption(kindOf(name), check[name])" :disabled="locked" :placeholder="HINTS[kindOf(name)] ?? ''" @change="set(name, readOption(kindOf(name), text($event)))" />
      </label>
    </p>
    <div v-for="name in conditions" :key="name" class="when">
      <span class="soft">{{ name === 'lead' ? 'the lead is who' : 'where' }}</span>
      <ConditionEditor v-if="check[name]" :model-value="check[name] as Condition" :fields="fields" :locked="locked" @update:model-value="(now: Condition) => set(name, now)" />
      <button v-if="!check[name]" type="button" class="link" :disabled="locked" @click="set(name, first())">set a condition</button>
      <button v-else-if="!kind?.needs.includes(name)" type="button" class="link" :disabled="locked" @click="set(name, undefined)">everywhere</button>
    </div>
  </article>
</template>

<style scoped>
.check { border-bottom: 1px solid var(--drift); padding: 8px 0; }
.check.off { opacity: 0.6; }
.head, .of, .when { display: flex; gap: 10px; align-items: center; flex-wrap: wrap; margin-bottom: 4px; font-size: 13.5px; }
.head .soft { font-size: 13px; max-width: 560px; }
.when { align-items: flex-start; }
label { display: inline-flex; gap: 6px; align-items: center; }
</style>
