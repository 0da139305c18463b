<script setup lang="ts">
import { computed, ref } from 'vue'
import FieldForm from './FieldForm.vue'
import type { FieldDocument } from '@/api/types'
import { nameOf } from '@/logic/definition'

/** The fields of a definition, and the chosen one in full. */
const props = defineProps<{
  roster: string
  fields: FieldDocument[]
  primaryKey: string[]
  lists: string[]
  locked: boolean
}>()
const emit = defineEmits<{ put: [fields: FieldDocument[]] }>()

const chosen = ref(0)
const title = ref('')
const field = computed(() => props.fields[chosen.value])
const says = (one: FieldDocument) =>
  (one.nevefield?.codeList ? `code: ${one.nevefield.codeList}` : (one.type ?? 'string')) +
  (one.constraints?.required ? ' · required' : '') +
  (props.primaryKey.includes(one.name) ? ' · key' : '')

function add(): void {
  const named = title.value.trim()
  if (!named) return
  const taken = props.fields.map((one) => one.name)
  const fresh = { name: nameOf(named, taken), title: named, type: 'string' }
  chosen.value = props.fields.length
  title.value = ''
  emit('put', [...props.fields, fresh])
}

const alter = (now: FieldDocument) => emit('put', props.fields.with(chosen.value, now))

function drop(): void {
  const left = props.fields.filter((_, place) => place !== chosen.value)
  chosen.value = 0
  emit('put', left)
}
</script>

<template>
  <div class="two">
    <div>
      <ol class="fields">
        <li v-for="(one, place) in fields" :key="one.name">
          <button class="plain" :class="{ on: place === chosen }" @click="chosen = place">
            <b>{{ one.title ?? one.name }}</b>
            <span class="soft">{{ says(one) }}</span>
          </button>
        </li>
      </ol>
      <form v-if="!locked" class="add" @submit.prevent="add">
        <input
          v-model="title"
          class="box"
          placeholder="Title of a new field"
          aria-label="Title of a new field"
          maxlength="120"
        /><button class="btn fir" :disabled="!title.trim()">Add it</button>
      </form>
    </div>
    <FieldForm
      v-if="field"
      :key="field.name"
      :model-value="field"
      :roster="roster"
      :lists="lists"
      :fields="fields"
      :is-key="primaryKey.includes(field.name)"
      :locked="locked"
      @update:model-value="alter"
      @drop="drop"
    />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 290px 1fr;
  gap: 18px;
  margin-top: 12px;
  align-items: start;
}
.two > * {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 12px;
}
.fields {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 520px;
  overflow: auto;
}
.fields button {
  display: block;
  width: 100%;
  padding: 4px 8px;
}
.fields button.on {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--ink);
}
.add {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
.add .box {
  flex: 1;
  min-width: 0;
}
</style>
