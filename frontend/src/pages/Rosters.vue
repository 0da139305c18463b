<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import FileChooser from '@/components/FileChooser.vue'
import { listDrafts } from '@/api/openings'
import type { OpeningDraft } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useDrop } from '@/composables/useDrop'
import { LEVELS } from '@/composables/useSession'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, listed, momentInFull } from '@/logic/words'

const catalog = useCatalog()
const router = useRouter()
const problem = ref('')
const selected = ref(0)
const loaded = ref(false)
const drop = useDrop()
const drafts = shallowRef<OpeningDraft[]>([])
async function begin(file: File): Promise<void> {
  const opening = await drop.sendNew(file)
  if (opening) await router.push(`/openings/${opening}`)
}

const move = (by: number) =>
  (selected.value = Math.max(0, Math.min(catalog.state.rosters.length - 1, selected.value + by)))
const open = (name: string | undefined) => name && void router.push(`/rosters/${name}`)
useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  Enter: () => open(catalog.state.rosters[selected.value]?.name),
})
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  // what has begun is only beside what there is
  if (drop.mayOpen()) drafts.value = await listDrafts().catch(() => [])
  loaded.value = true
})
usePageTitle(() => 'Rosters')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Rosters</h1>
      <span class="grow" />
      <template v-if="drop.mayOpen() && catalog.state.rosters.length">
        <RouterLink class="btn" to="/openings/from-nothing">Open one from nothing</RouterLink>
        <FileChooser @chosen="begin">Open one from a file</FileChooser>
      </template>
    </div>
    <p v-for="draft in drafts" :key="draft.id" class="flag">
      <RouterLink :to="`/openings/${draft.id}`">{{ draft.file_name }}</RouterLink> waits to become a
      roster, since {{ momentInFull(draft.at) }}.
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="catalog.state.rosters.length" class="list">
      <thead>
        <tr>
          <th>roster</th>
          <th class="n">records</th>
          <th>key</th>
          <th class="n">fields</th>
          <th>required</th>
          <th>you may</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(roster, index) in catalog.state.rosters"
          :key="roster.name"
          class="click"
          :class="{ on: index === selected }"
          @click="open(roster.name)"
        >
          <td>
            <RouterLink :to="`/rosters/${roster.name}`" @click.stop>{{ roster.title }}</RouterLink>
          </td>
          <td class="n">{{ count(roster.records) }}</td>
          <td>{{ listed(roster.fields.filter((one) => one.is_key).map((one) => one.title)) }}</td>
          <td class="n">{{ roster.fields.length }}</td>
          <td class="soft">
            {{ listed(roster.fields.filter((one) => one.required).map((one) => one.title)) }}
          </td>
          <td>{{ LEVELS[roster.level] }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="loaded && !problem" class="empty">
      <h2>There is no roster yet</h2>
      <template v-if="drop.mayOpen()">
        <p>
          Drop a file that has your people in it anywhere, as it is.<br />What its columns are is
          worked out and shown; nothing is kept before you say so.
        </p>
        <FileChooser @chosen="begin" />
        <p><RouterLink to="/openings/from-nothing">Begin from nothing</RouterLink></p>
      </template>
      <p v-else>Who administers opens the first one from a file.</p>
    </div>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  padding: 14px 18px;
  overflow: auto;
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
  padding-bottom: 10px;
}
.flag {
  margin-bottom: 8px;
}
td a {
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
td {
  max-width: 460px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
