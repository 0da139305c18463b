<script setup lang="ts">
import { computed, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesign } from '@/api/types'
import type { DesignDocument } from '@/logic/design'
import { useCatalog } from '@/composables/useCatalog'

/** In which fields of the register a card's number, holder and state stand. */
const props = defineProps<{ design: CardDesign; document: DesignDocument }>()
const emit = defineEmits<{ put: [next: DesignDocument] }>()

const NONE = { value: '', label: 'nothing' }
const FIELDS = [
  ['number', 'Card number'],
  ['facility', 'Facility'],
  ['holder', 'Holder'],
  ['state', 'State'],
  ['until', 'Valid until'],
  ['name', 'Name as the doors take it'],
] as const
const STATES = [
  ['lost', 'A lost card is'],
  ['spoiled', 'A spoiled card is'],
  ['returned', 'A card given back is'],
  ['replaced', 'A card replaced by another is'],
] as const
const catalog = useCatalog()
interface FieldDocument {
  name: string
  title?: string
  nevefield?: { codeList?: string }
}
const fields = computed(() => props.design.register_fields as unknown as FieldDocument[])
const choices = computed(() => [
  NONE,
  ...fields.value.map((one) => ({ value: one.name, label: one.title || one.name })),
])
const list = computed(() => {
  const state = fields.value.find((one) => one.name === props.document.register.state)
  return state?.nevefield?.codeList ?? ''
})
watch(list, (name) => void catalog.loadList(name).catch(() => undefined), { immediate: true })
const states = computed(() => [
  NONE,
  ...(catalog.state.lists[list.value]?.codes ?? []).map((one) => ({
    value: one.code,
    label: one.label || one.code,
  })),
])
const text = (name: string) => String(props.document.register[name] ?? '')
const inUse = computed(() => {
  const found = props.document.register.in_use
  return Array.isArray(found) ? (found[0] ?? '') : ''
})
function put(name: string, value: string | string[] | null): void {
  const register = { ...props.document.register }
  if (value?.length) register[name] = value
  else delete register[name]
  emit('put', { ...props.document, register })
}
</script>

<template>
  <h2>Where the cards are kept: {{ design.register_title }}</h2>
  <dl class="fields">
    <template v-for="[name, title] in FIELDS" :key="name">
      <dt>{{ title }}</dt>
      <dd>
        <ChooseOne
          :model-value="text(name)"
          :options="choices"
          :label="title"
          :disabled="!design.may_change"
          @update:model-value="(value) => put(name, value)"
        />
      </dd>
    </template>
    <template v-if="list">
      <dt>A card in use is</dt>
      <dd>
        <ChooseOne
          :model-value="inUse"
          :options="states"
          label="A card in use is"
          :disabled="!design.may_change"
          @update:model-value="(value) => put('in_use', value ? [value] : [])"
        />
      </dd>
      <template v-for="[name, title] in STATES" :key="name">
        <dt>{{ title }}</dt>
        <dd>
          <ChooseOne
            :model-value="text(name)"
            :options="states"
            :label="title"
            :disabled="!design.may_change"
            @update:model-value="(value) => put(name, value)"
          />
        </dd>
      </template>
    </template>
  </dl>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 260px 300px;
  gap: 4px 12px;
  align-items: center;
  margin-top: 8px;
}
dt {
  color: var(--ink2);
}
</style>
