<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import InvitePanel from '@/components/setup/InvitePanel.vue'
import LevelBars from '@/components/setup/LevelBars.vue'
import PersonPanel from '@/components/setup/PersonPanel.vue'
import { listAccounts } from '@/api/accounts'
import type { Accounts } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { levelIn, levelWords, standing } from '@/logic/accounts'
import { counted, day, moment, momentInFull } from '@/logic/words'

/** Who works here, and what each may do, roster by roster. */
const catalog = useCatalog()
const found = shallowRef<Accounts | null>(null)
const problem = ref('')
const shown = ref<number | 'invite' | null>(null)
const now = new Date()
const chosen = computed(() => found.value?.people.find((one) => one.id === shown.value))
const open = computed(() => found.value?.people.filter((one) => !one.is_closed) ?? [])
const invited = computed(() => open.value.filter((one) => !one.has_password).length)

async function load(): Promise<void> {
  try {
    found.value = await listAccounts()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
function move(by: number): void {
  const ids = found.value?.people.map((one) => one.id) ?? []
  const place = ids.indexOf(Number(shown.value))
  const next = ids[Math.max(0, Math.min(ids.length - 1, place + by))]
  if (next !== undefined) shown.value = next
}
useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  Escape: () => (shown.value = null),
})
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  await load()
})
usePageTitle(() => 'People who work here')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>People who work here</h1>
      <span v-if="found" class="soft"
        >{{ open.length }}<template v-if="invited">, {{ invited }} invited</template> · what each
        may do, roster by roster</span
      >
      <span class="grow" />
      <button class="btn main" @click="shown = 'invite'">Invite somebody</button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div class="wide">
      <table v-if="found" class="list">
        <thead>
          <tr>
            <th>name</th>
            <th v-if="!catalog.state.rosters.length">in every roster</th>
            <th v-for="roster in catalog.state.rosters" :key="roster.name">{{ roster.title }}</th>
            <th>last here</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="one in found.people"
            :key="one.id"
            class="click"
            :class="{ on: one.id === shown, closed: one.is_closed }"
            @click="shown = one.id"
          >
            <td>
              <button class="plain name" :aria-pressed="one.id === shown">{{ one.name }}</button>
            </td>
            <td v-if="!catalog.state.rosters.length"><LevelBars :level="one.level" /></td>
            <td v-for="roster in catalog.state.rosters" :key="roster.name">
              <LevelBars :level="levelIn(one, roster.name)" />
              <span v-if="one.parts[roster.name]" class="part">{{
                one.parts[roster.name]!.words
              }}</span>
            </td>
            <td :title="one.seen_at ? momentInFull(one.seen_at) : undefined">
              <span v-if="standing(one)" class="stand">{{ standing(one) }}</span>
              <template v-else-if="one.is_you">now</template>
              <template v-else>{{ one.seen_at ? moment(one.seen_at, now) : 'never' }}</template>
              <template v-if="one.link_until && !one.has_password">
                , link until {{ day(one.link_until.slice(0, 10)) }}</template
              >
              <template v-else-if="one.last_day && !one.is_over">
                , until {{ day(one.last_day) }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="legend">
      <span v-for="level in 4" :key="level"
        ><LevelBars :level="level" aria-hidden="true" /> {{ levelWords(level) }}</span
      >
    </p>
    <p v-for="one in found?.alone" :key="one.roster" class="flag">
      <template v-if="one.who"
        >In {{ one.title }} <b>one person alone</b>, {{ one.who }}, may approve.</template
      >
      <template v-else>In {{ one.title }} <b>nobody</b> may approve.</template>
      {{
        one.needs_two
          ? 'Its definition asks for a second person: what they prepare themselves cannot be applied.'
          : 'While they are away nobody can stand in.'
      }}
    </p>
    <p v-if="found" class="unseen" role="status">{{ counted(open.length, 'person', 'people') }}</p>
  </section>
  <InvitePanel
    v-if="shown === 'invite'"
    :rosters="catalog.state.rosters"
    @close="shown = null"
    @done="load"
  />
  <PersonPanel
    v-else-if="chosen"
    :key="chosen.id"
    :account="chosen"
    :rosters="catalog.state.rosters"
    @close="shown = null"
    @done="load"
  />
</template>

<style scoped src="./page.css"></style>
<style scoped>
.name {
  font-weight: 600;
}
.part {
  display: inline-block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  vertical-align: bottom;
  max-width: 150px;
  margin-left: 8px;
  font-size: 13px;
  color: var(--ink2);
}
.closed td {
  color: var(--ink2);
}
.stand {
  color: var(--waiting-ink, var(--ink));
  font-weight: 600;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 22px;
  padding: 12px 0;
}
.legend > span {
  display: inline-flex;
  gap: 6px;
  align-items: flex-end;
}
</style>
