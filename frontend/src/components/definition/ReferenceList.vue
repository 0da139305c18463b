<script setup lang="ts">
import { ref } from 'vue'
import { Checkbox } from 'ant-design-vue'
import ReferenceBegin from './ReferenceBegin.vue'
import { useCatalog } from '@/composables/useCatalog'
import { makeReference, type Reference } from '@/logic/knownBy'

/** What fields refer to: a record of a roster by a field of it. Several together are written as JSON. */
const props = defineProps<{
  references: Reference[]
  fields: { value: string; label: string }[]
  roster: string
  locked: boolean
}>()
const emit = defineEmits<{ put: [references: Reference[]] }>()

const catalog = useCatalog()
const isSingle = (one: Reference) =>
  [one.fields].flat().length === 1 && [one.reference.fields].flat().length === 1
const named = (names: string | string[], of: string) =>
  [names]
    .flat()
    .map((name) => catalog.field(of, name)?.title ?? name)
    .join(' and ')
/** The roster that a reference names, this one by its own name. */
const there = (one: Reference) => one.reference.resource || props.roster

const isAdding = ref(false)
function replace(place: number, one: Reference | null): void {
  const all = [...props.references]
  if (one) all[place] = one
  else all.splice(place, 1)
  emit('put', all)
}
function add(made: Reference): void {
  isAdding.value = false
  emit('put', [...props.references, made])
}
function turn(place: number, one: Reference): void {
  const goesUp = !one.nevefield?.hierarchy
  replace(
    place,
    makeReference(
      [one.fields].flat(),
      one.reference.resource,
      [one.reference.fields].flat(),
      goesUp,
    ),
  )
}
</script>

<template>
  <section>
    <h2>Refers to</h2>
    <p class="soft">What stands in the field has to stand there, in the field of that roster.</p>
    <p v-for="(one, place) in references" :key="place" class="one">
      <span
        ><b>{{ named(one.fields, roster) }}</b> is {{ named(one.reference.fields, there(one)) }} of
        {{ catalog.roster(there(one))?.title ?? there(one) }}</span
      >
      <Checkbox
        v-if="isSingle(one) && there(one) === roster"
        :checked="!!one.nevefield?.hierarchy"
        :disabled="locked"
        @change="turn(place, one)"
        >goes up a tree, never in a circle</Checkbox
      >
      <button
        v-if="!locked"
        class="plain"
        :aria-label="`Remove the reference of ${named(one.fields, roster)}`"
        @click="replace(place, null)"
      >
        Remove
      </button>
    </p>
    <ReferenceBegin
      v-if="isAdding"
      :fields="fields"
      :roster="roster"
      @made="add"
      @cancel="isAdding = false"
    />
    <button v-else-if="!locked" class="btn" @click="isAdding = true">add a reference</button>
    <p v-if="locked && !references.length" class="soft">Nothing.</p>
  </section>
</template>

<style scoped>
.one {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
