<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import FileChooser from '@/components/FileChooser.vue'
import TallyBar from '@/components/TallyBar.vue'
import { listIntakes } from '@/api/intakes'
import type { IntakeBrief } from '@/api/types'
import { useDrop } from '@/composables/useDrop'
import { useKeys } from '@/composables/useKeys'
import { PREPARE, useSession } from '@/composables/useSession'
import { count, momentInFull } from '@/logic/words'

const router = useRouter()
const session = useSession()
const drop = useDrop()
const intakes = shallowRef<IntakeBrief[] | null>(null)
const problem = ref('')
const selected = ref(0)
const mayDrop = computed(() => session.state.me?.rosters.some((one) => one.level >= PREPARE) ?? false)

async function take(file: File): Promise<void> {
  const intake = await drop.send(file)
  if (intake) await router.push(`/intakes/${intake}/problems`)
}

function state(one: IntakeBrief): string {
  const open = one.tally ? one.tally.stopped + one.tally.waiting + one.tally.held : 0
  const ready = one.tally ? one.tally.new + one.tally.changed : 0
  if (one.applied && !ready) return open ? `applied, ${count(open)} rows open` : 'applied'
  return ready ? `${count(ready)} ready to apply` : open ? `${count(open)} rows open` : 'nothing to apply'
}

const open = (one: IntakeBrief | undefined) => one && void router.push(`/intakes/${one.id}/problems`)
const move = (by: number) => (selected.value = Math.max(0, Math.min((intakes.value?.length ?? 1) - 1, selected.value + by)))
useKeys({ ArrowDown: () => move(1), ArrowUp: () => move(-1), Enter: () => open(intakes.value?.[selected.value]) })
onMounted(async () => {
  try {
    intakes.value = await listIntakes()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <section class="page">
    <div class="head"><h2>Intakes</h2><span class="soft">each file on its way into a roster, the last first</span><span class="grow" /><RouterLink to="/sources">Sources and what was learnt from them</RouterLink><FileChooser v-if="mayDrop" @chosen="take">Choose a file</FileChooser></div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="intakes?.length" class="list">
      <thead><tr><th>intake</th><th>file</th><th>roster</th><th class="n">rows</th><th>outcomes</th><th>state</th><th>dropped</th></tr></thead>
      <tbody>
        <tr v-for="(one, index) in intakes" :key="one.id" class="click" :class="{ on: index === selected }" @click="open(one)">
          <td><RouterLink :to="`/intakes/${one.id}/problems`" @click.stop>{{ one.title }}</RouterLink></td>
          <td class="soft">{{ one.file_name }}</td><td>{{ one.roster_title }}</td><td class="n">{{ one.tally ? count(one.tally.read) : '' }}</td>
          <td><TallyBar v-if="one.tally" :tally="one.tally" /></td><td>{{ state(one) }}</td><td class="soft">{{ momentInFull(one.at) }} {{ one.by }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="intakes" class="empty"><h2>No file has come yet</h2><p>Drop one anywhere in the product; Nevefield says which roster it looks like.</p></div>
  </section>
</template>

<style scoped>
.page { flex: 1; min-width: 0; padding: 14px 18px; overflow: auto; }
.head { display: flex; gap: 12px; align-items: baseline; padding-bottom: 10px; }
td a { font-weight: 600; color: var(--ink); text-decoration: none; }
td { max-width: 260px; overflow: hidden; text-overflow: ellipsis; }
</style>
