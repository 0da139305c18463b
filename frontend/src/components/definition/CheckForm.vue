<script setup lang="ts">
import { computed } from 'vue'
import { byTitle, ofPairs } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ConditionEditor from './ConditionEditor.vue'
import OptionField from './OptionField.vue'
import type { CheckDocument, CheckKind, Condition, FieldDocument } from '@/api/types'
import { condition } from '@/logic/definition'

const props = defineProps<{ kinds: CheckKind[]; fields: FieldDocument[]; locked: boolean }>()
const emit = defineEmits<{ drop: [] }>()
const check = defineModel<CheckDocument>({ required: true })

const WEIGHTS = ofPairs([
  ['stop', 'stops'],
  ['ask', 'asks'],
  ['note', 'notes'],
])
const kind = computed(() => props.kinds.find((one) => one.name === check.value.check))
const options = computed(() => kind.value?.options ?? [])
const conditions = computed(() => options.value.filter((option) => option.kind === 'condition'))
const others = computed(() => options.value.filter((option) => option.kind !== 'condition'))
const free = computed(() => props.fields.filter((one) => !check.value.fields.includes(one.name)))

function set(name: string, value: unknown): void {
  const rest = Object.fromEntries(
    Object.entries(check.value).filter(([key]) => key !== name),
  ) as CheckDocument
  check.value =
    value === '' || value === undefined || value === false ? rest : { ...rest, [name]: value }
}

function tick(name: string, on: boolean): void {
  set(
    'fields',
    on ? [...check.value.fields, name] : check.value.fields.filter((one) => one !== name),
  )
}
const first = () => condition(props.fields[0]?.name ?? '', 'is', '')
</script>

<template>
  <article class="check" :class="{ off: check.off }">
    <p class="head">
      <b>{{ check.check }}</b><span class="soft">{{ kind?.holds }}</span
      ><span class="grow" />
      <ChooseOne
        :model-value="String(check.weight ?? kind?.weight ?? '')"
        :options="WEIGHTS"
        label="Weight"
        :disabled="locked"
        @update:model-value="(weight) => set('weight', weight)"
      />
      <label
        ><input
          type="checkbox"
          :checked="!check.off"
          :disabled="locked"
          @change="set('off', !($event.target as HTMLInputElement).checked)"
        />
        on</label
      >
      <button v-if="!locked" type="button" class="btn" @click="emit('drop')">Remove</button>
    </p>
    <p v-if="kind?.most" class="of">
      <span class="soft">of</span>
      <ChooseOne
        :model-value="null"
        :options="byTitle(free)"
        label="Add a field"
        placeholder="add a field"
        :disabled="locked || check.fields.length >= kind.most"
        @update:model-value="(name) => name && tick(name, true)"
      />
      <button
        v-for="name in check.fields"
        :key="name"
        type="button"
        class="btn"
        :disabled="locked"
        :title="`Remove ${name}`"
        @click="tick(name, false)"
      >
        {{ fields.find((one) => one.name === name)?.title ?? name }} ×
      </button>
    </p>
    <p v-if="others.length" class="of">
      <OptionField
        v-for="option in others"
        :key="option.name"
        :option="option"
        :model-value="check[option.name]"
        :locked="locked"
        @update:model-value="(value: unknown) => set(option.name, value)"
      />
    </p>
    <div v-for="option in conditions" :key="option.name" class="when">
      <span class="soft">{{ option.label }}</span>
      <ConditionEditor
        v-if="check[option.name]"
        :model-value="check[option.name] as Condition"
        :fields="fields"
        :locked="locked"
        @update:model-value="(now: Condition) => set(option.name, now)"
      />
      <button
        v-if="!check[option.name]"
        type="button"
        class="link"
        :disabled="locked"
        @click="set(option.name, first())"
      >
        set a condition
      </button>
      <button
        v-else-if="!option.needed"
        type="button"
        class="link"
        :disabled="locked"
        @click="set(option.name, undefined)"
      >
        everywhere
      </button>
    </div>
  </article>
</template>

<style scoped>
.check {
  border-bottom: 1px solid var(--drift);
  padding: 8px 0;
}
.check.off {
  opacity: 0.6;
}
.head,
.of,
.when {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 4px;
  font-size: 13.5px;
}
.head .soft {
  font-size: 13px;
  max-width: 560px;
}
.when {
  align-items: flex-start;
}
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
