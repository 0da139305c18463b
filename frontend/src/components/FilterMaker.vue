<script setup lang="ts">
import { computed, ref } from 'vue'
import { byTitle, ofPairs } from '@/logic/choices'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Roster } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'

const props = defineProps<{ roster: Roster }>()
const emit = defineEmits<{ add: [filter: string] }>()

const EMPTY = ' empty'
const YES_OR_NO = ofPairs([
  ['true', 'yes'],
  ['false', 'no'],
])
const catalog = useCatalog()
const name = ref('')
const field = computed(() => props.roster.fields.find((one) => one.name === name.value))
const codes = computed(() => catalog.state.lists[field.value?.code_list ?? '']?.codes ?? [])

async function choose(chosen: string | null): Promise<void> {
  name.value = chosen ?? ''
  await catalog.loadList(field.value?.code_list ?? '').catch(() => undefined)
}

const values = computed(() => [
  ...(field.value?.type === 'boolean' ? YES_OR_NO : []),
  ...codes.value.map((one) => ({ value: one.code, label: one.label || one.code, also: one.code })),
  { value: EMPTY, label: 'empty' },
])
const addTyped = (event: Event) => add((event.target as HTMLInputElement).value)

function add(value: string): void {
  if (value) emit('add', `${name.value}:${value === EMPTY ? '' : value.trim()}`)
  name.value = ''
}

function addEmpty(): void {
  emit('add', `${name.value}:`)
  name.value = ''
}
</script>

<template>
  <span class="maker">
    <ChooseOne
      :model-value="name"
      :options="byTitle(roster.fields)"
      label="Only records where a field"
      placeholder="only where …"
      @update:model-value="choose"
    />
    <template v-if="field">
      is
      <ChooseOne
        v-if="codes.length || field.type === 'boolean'"
        :model-value="null"
        :options="values"
        label="is"
        placeholder="choose"
        @update:model-value="(value) => add(value ?? '')"
      />
      <template v-else>
        <DayField
          v-if="field.type === 'date'"
          model-value=""
          label="is"
          @update:model-value="add"
        />
        <input v-else class="box" aria-label="is" @change="addTyped" />
        <button class="link" @click="addEmpty">empty</button>
      </template>
    </template>
  </span>
</template>

<style scoped>
.maker {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
