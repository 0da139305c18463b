<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { getFieldValues, makeListOf } from '@/api/definitions'
import type { FieldValues } from '@/api/types'
import { count, counted } from '@/logic/words'

/** What a field without a code list has in the records: a list is made of it by a click. */
const props = defineProps<{ roster: string; field: string }>()
const emit = defineEmits<{ made: [list: string] }>()

const found = shallowRef<FieldValues | null>(null)
const problem = ref('')
const busy = ref(false)
async function make(): Promise<void> {
  busy.value = true
  try {
    emit('made', await makeListOf(props.roster, props.field))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
onMounted(async () => {
  // a field that is in no record yet has none
  found.value = await getFieldValues(props.roster, props.field).catch(() => null)
})
</script>

<template>
  <p v-if="found?.different && !found.why_no_list" class="values">
    <span class="soft"
      >{{ counted(found.different, 'different value') }}:
      <template v-for="(one, place) in found.commonest" :key="one.value"
        >{{ place ? ', ' : '' }}{{ one.value }} {{ count(one.records) }}</template
      >{{ found.different > found.commonest.length ? ' …' : '' }}</span
    >
    <button type="button" class="btn" :disabled="busy" @click="make">
      Make a list of these {{ count(found.different) }}
    </button>
    <span v-if="problem" role="alert">{{ problem }}</span>
  </p>
</template>

<style scoped>
.values {
  grid-column: 1 / -1;
  display: flex;
  gap: 12px;
  align-items: baseline;
}
</style>
