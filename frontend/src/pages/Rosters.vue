<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useCatalog } from '@/composables/useCatalog'
import { LEVELS } from '@/composables/useSession'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, listed } from '@/logic/words'

const catalog = useCatalog()
const router = useRouter()
const problem = ref('')
const selected = ref(0)
const loaded = ref(false)

const move = (by: number) =>
  (selected.value = Math.max(0, Math.min(catalog.state.rosters.length - 1, selected.value + by)))
const open = (name: string | undefined) => name && void router.push(`/rosters/${name}`)
useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  Enter: () => open(catalog.state.rosters[selected.value]?.name),
})
onMounted(() =>
  catalog
    .load()
    .catch((error: Error) => (problem.value = error.message))
    .finally(() => (loaded.value = true)),
)
usePageTitle(() => 'Rosters')
</script>

<template>
  <section class="page">
    <h1>Rosters</h1>
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
      <p>
        Who runs the product opens one with its definition:<br /><span class="mono"
          >nevefield roster open DEFINITION.json --codes CODES.csv</span
        >
      </p>
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
h1 {
  padding-bottom: 10px;
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
