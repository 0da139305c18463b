<script setup lang="ts">
import type { StartingPeople } from '@/api/types'
import { counted, listed } from '@/logic/words'

/** The fields that rosters of four kinds of people have as a rule, and the file lacks. */
defineProps<{ people: StartingPeople[] }>()
const emit = defineEmits<{ people: [name: string, on: boolean] }>()
</script>

<template>
  <section>
    <h2>Begin with what such rosters have</h2>
    <p class="soft">
      Fields that are common for one kind of people, with their checks. Each can be altered later.
    </p>
    <ul>
      <li v-for="kind in people" :key="kind.name">
        <span>{{ kind.title }}, {{ kind.words }}</span>
        <button
          v-if="kind.is_added"
          class="link"
          :aria-label="`Take out the fields of ${kind.title}`"
          @click="emit('people', kind.name, false)"
        >
          take out
        </button>
        <button
          v-else-if="kind.fields.length"
          class="link"
          :title="listed(kind.fields.map((one) => one.title))"
          :aria-label="`Add ${counted(kind.fields.length, 'field')} of ${kind.title}`"
          @click="emit('people', kind.name, true)"
        >
          add {{ kind.fields.length }}
        </button>
        <span v-else class="soft">has all</span>
      </li>
    </ul>
  </section>
</template>

<style scoped src="../setup/panel.css"></style>
<style scoped>
h2 {
  margin-top: 18px;
}
p {
  margin: 4px 0 10px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-bottom: 1px solid var(--drift);
}
.link {
  white-space: nowrap;
}
</style>
