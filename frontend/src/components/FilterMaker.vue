<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Roster } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'

const props = defineProps<{ roster: Roster }>()
const emit = defineEmits<{ add: [filter: string] }>()

const EMPTY = ' empty'
const catalog = useCatalog()
const name = ref('')
const field = computed(() => props.roster.fields.find((one) => one.name === name.value))
const codes = computed(() => catalog.state.lists[field.value?.code_list ?? '']?.codes ?? [])

async function choose(event: Event): Promise<void> {
  name.value = (event.target as HTMLSelectElement).value
  await catalog.loadList(field.value?.code_list ?? '').catch(() => undefined)
}

function add(event: Event): void {
  const value = (event.target as HTMLInputElement | HTMLSelectElement).value
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
    <select class="box" :value="name" aria-label="Only records where a field" @change="choose">
      <option value="">only where …</option>
      <option v-for="one in roster.fields" :key="one.name" :value="one.name">
        {{ one.title }}
      </option>
    </select>
    <template v-if="field">
      is
      <select
        v-if="codes.length || field.type === 'boolean'"
        class="box"
        aria-label="is"
        @change="add"
      >
        <option value="">choose</option>
        <template v-if="field.type === 'boolean'"
          ><option value="true">yes</option>
          <option value="false">no</option></template
        >
        <option v-for="one in codes" :key="one.code" :value="one.code">
          {{ one.label || one.code }}
        </option>
        <option :value="EMPTY">empty</option>
      </select>
      <template v-else>
        <input
          class="box"
          :type="field.type === 'date' ? 'date' : 'text'"
          aria-label="is"
          @change="add"
        />
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
