<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { listChangeSets } from '@/api/rosters'
import type { ChangeSet } from '@/api/types'
import { counted, momentInFull } from '@/logic/words'

const props = defineProps<{ roster: string }>()
const sets = shallowRef<ChangeSet[]>([])
const problem = ref('')
const did = (one: ChangeSet) =>
  [
    one.found.joined && `${one.found.joined} joined`,
    one.found.changed && `${one.found.changed} changed`,
    one.found.left && `${one.found.left} left`,
  ]
    .filter(Boolean)
    .join(', ')

onMounted(async () => {
  try {
    sets.value = await listChangeSets(props.roster)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <aside aria-label="History of the roster">
    <h2>History</h2>
    <p class="soft">
      {{ counted(sets.length, 'alteration') }}, the last first ·
      <RouterLink :to="`/rosters/${roster}/over-time`">over time</RouterLink>
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <ol>
      <li v-for="one in sets" :key="one.id" :class="{ undone: one.undone_by }">
        <RouterLink :to="`/receipts/${one.id}`">{{
          one.kind === 'undo' ? `Taken back: ${one.title}` : one.title
        }}</RouterLink>
        <p class="soft">{{ momentInFull(one.at) }} {{ one.by }} · receipt {{ one.id }}</p>
        <p>{{ did(one) || 'nothing altered' }}{{ one.undone_by ? ', taken back later' : '' }}</p>
      </li>
    </ol>
  </aside>
</template>

<style scoped>
aside {
  width: 340px;
  flex: none;
  border-left: 1px solid var(--line);
  padding: 12px 16px;
  overflow-y: auto;
  font-size: 13px;
}
ol {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  padding: 8px 0;
  border-top: 1px solid var(--drift);
}
a {
  font-weight: 600;
  text-decoration: none;
}
.undone a {
  text-decoration: line-through;
}
</style>
