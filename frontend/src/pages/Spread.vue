<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import Vessel from '@/components/groups/Vessel.vue'
import { askSpread, getGroups, place } from '@/api/groups'
import { listShortlists } from '@/api/shortlists'
import type { Groups, Placed, Shortlist, Spread } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { count, counted, listed } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const name = String(route.params.roster)
const kind = String(route.params.kind)
const groups = shallowRef<Groups | null>(null)
const shortlists = ref<Shortlist[]>([])
const who = ref(Number(route.query.shortlist ?? 0))
const anew = ref(false)
const even = ref<string[]>([])
const apart = ref('')
const together = ref('')
const sizes = ref(true)
const oneBand = ref(true)
const found = shallowRef<Spread | null>(null)
const given = ref<Record<number, string>>({})
const asking = ref(false)
const problem = ref('')
const fields = computed(() =>
  (catalog.roster(name)?.fields ?? []).filter((one) => groups.value?.fields.includes(one.name)),
)
/** People can be even in what many share: codes, yes and no, small numbers. */
const evenly = computed(() => fields.value.filter((one) => one.code_list || one.type === 'boolean'))
const singly = computed(() =>
  fields.value.filter((one) => !one.code_list && one.type !== 'boolean' && one.type !== 'date'),
)
const scale = computed(
  () =>
    Math.max(
      (groups.value?.most ?? 0) * 1.25,
      ...(found.value?.sizes ?? []).map((one) => Math.max(one.before, one.after ?? 0)),
      1,
    ) * 1.05,
)
const parts = computed(() => [...new Set((found.value?.sizes ?? []).map((one) => one.part))])
const options = (one: Placed) => (found.value?.sizes ?? []).filter((each) => each.part === one.part)
const altered = computed(
  () =>
    (found.value?.placed ?? []).filter(
      (one) => given.value[one.record] && given.value[one.record] !== one.group,
    ).length,
)
/** How many come to and leave a group, what was altered here counted in. */
function moving(key: string[], part: string): { gets: number; loses: number } {
  const own = key.at(-1)
  const people = (found.value?.placed ?? []).filter((one) => one.part === part)
  const label = found.value?.sizes.find((one) => one.key.join('/') === key.join('/'))?.label
  return {
    gets: people.filter(
      (one) => (given.value[one.record] ?? one.group) === own && one.had !== label,
    ).length,
    loses: people.filter(
      (one) => one.had === label && (given.value[one.record] ?? one.group) !== own,
    ).length,
  }
}
function troubles(one: Spread['sizes'][number]): string[] {
  if (one.after === null) return ['no arrangement']
  const { gets, loses } = moving(one.key, one.part)
  const size = one.before + gets - loses
  const { most = 0, least = 0 } = groups.value ?? {}
  return [
    most && size > most ? `${size - most} over` : '',
    least && size && size < least ? `${least - size} too few` : '',
  ].filter(Boolean)
}

async function ask(): Promise<void> {
  problem.value = ''
  asking.value = true
  found.value = null
  given.value = {}
  try {
    found.value = await askSpread(name, kind, {
      records: null,
      shortlist: who.value || null,
      part: [],
      groups: [],
      anew: anew.value,
      even: even.value,
      apart: apart.value ? [apart.value] : [],
      together: together.value ? [together.value] : [],
      sizes: sizes.value,
      one_band: oneBand.value,
    })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    asking.value = false
  }
}
async function review(): Promise<void> {
  if (!found.value) return
  try {
    const moves = Object.fromEntries(
      found.value.placed.map((one) => [String(one.record), given.value[one.record] ?? one.group]),
    )
    const made = await place(name, kind, moves, true)
    await router.push(`/intakes/${made.intake}/changes`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

watch([who, anew, even, apart, together, sizes, oneBand], () => {
  found.value = null
  problem.value = ''
})
onMounted(async () => {
  try {
    await catalog.load()
    ;[groups.value, shortlists.value] = await Promise.all([
      getGroups(name, kind, ''),
      listShortlists(name),
    ])
    if (!who.value && !groups.value.without && shortlists.value[0])
      who.value = shortlists.value[0].id
    even.value = evenly.value
      .filter((one) => ['programme', 'home_port'].includes(one.name))
      .map((one) => one.name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <form class="asks" aria-label="How people are spread" @submit.prevent="ask">
    <h2>Spread people over {{ groups?.title.toLowerCase() }}</h2>
    <p class="soft">Nothing is done: you see who would go where.</p>
    <label class="field"
      >Who
      <select v-model="who" class="box">
        <option :value="0">those without one · {{ groups?.without ?? 0 }}</option>
        <option v-for="one in shortlists" :key="one.id" :value="one.id">
          {{ one.title }} · {{ count(one.count) }}
        </option>
      </select></label
    >
    <fieldset>
      <legend>Who has one already</legend>
      <label
        ><input v-model="anew" type="radio" :value="false" /> stays where it can be: as few moves as
        possible</label
      >
      <label><input v-model="anew" type="radio" :value="true" /> is spread anew</label>
    </fieldset>
    <fieldset>
      <legend>Keep to</legend>
      <label v-if="groups?.most || groups?.least"
        ><input v-model="sizes" type="checkbox" /> {{ groups.least }} to {{ groups.most }} people in
        each</label
      >
      <label v-if="groups?.has_ages"
        ><input v-model="oneBand" type="checkbox" /> one band of ages in each</label
      >
      <label class="field"
        >apart, who has the same
        <select v-model="apart" class="box">
          <option value="">nobody in particular</option>
          <option v-for="one in singly" :key="one.name" :value="one.name">{{ one.title }}</option>
        </select></label
      >
      <label class="field"
        >together, who has the same
        <select v-model="together" class="box">
          <option value="">nobody in particular</option>
          <option v-for="one in singly" :key="one.name" :value="one.name">{{ one.title }}</option>
        </select></label
      >
    </fieldset>
    <fieldset>
      <legend>As even as can be in</legend>
      <label v-for="one in evenly" :key="one.name"
        ><input v-model="even" type="checkbox" :value="one.name" /> {{ one.title }}</label
      >
    </fieldset>
    <p class="do">
      <button class="btn main" :disabled="asking || (!who && !groups?.without)">
        {{ asking ? 'Working it out …' : 'Work it out' }}</button><RouterLink
        class="btn"
        :to="`/groups/${name}/${kind}`"
        >Back to the groups</RouterLink
      >
    </p>
    <p v-if="!who && groups && !groups.without" class="soft">
      Everybody has one. Keep a shortlist of those who are to be spread, on the roster’s page or a
      receipt.
    </p>
  </form>
  <section class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="!found && !problem" class="empty">
      <h2>{{ asking ? 'Looking for an arrangement …' : 'Say who and how, then work it out' }}</h2>
      <p v-if="!asking">
        Least, most, ages, apart and together are kept without exception. Where they clash it is
        said which, and by how much.
      </p>
    </div>
    <template v-if="found">
      <div class="head">
        <h2>
          {{
            found.clashes.length
              ? 'Not everything can be kept'
              : `${counted(found.placed.length, 'person gets', 'people get')} a group, ${count(found.stay)} keep theirs`
          }}
        </h2>
        <span class="soft"
          >{{
            found.moved
              ? `${counted(found.moved, 'person leaves', 'people leave')} the group of ` +
                `today${found.is_least && !anew ? ', fewer cannot do' : ''}`
              : ''
          }}{{ altered ? ` · ${counted(altered, 'altered here', 'altered here')}` : '' }}</span
        >
        <span class="grow" />
        <button v-if="found.placed.length" class="btn main" @click="review">
          See what {{ counted(found.placed.length, 'change') }} would do
        </button>
      </div>
      <div v-if="found.clashes.length" class="flag stop">
        <ul>
          <li v-for="one in found.clashes" :key="one">{{ one }}</li>
        </ul>
      </div>
      <p v-if="found.lacking" class="flag">
        {{ counted(found.lacking, 'person has', 'people have') }} no
        {{ listed(groups?.part_fields ?? []).toLowerCase() }}: they cannot be spread before that is
        known.
      </p>
      <section v-for="part in parts" :key="part">
        <h3>{{ part }}</h3>
        <div class="vessels">
          <Vessel
            v-for="one in found.sizes.filter((each) => each.part === part)"
            :key="one.key.join('/')"
            :label="one.label"
            :size="one.before"
            :least="groups?.least ?? 0"
            :most="groups?.most ?? 0"
            :scale="scale"
            :gets="moving(one.key, one.part).gets"
            :loses="moving(one.key, one.part).loses"
            :troubles="troubles(one)"
            :said="[]"
          />
        </div>
      </section>
      <table v-if="found.placed.length" class="list">
        <thead>
          <tr>
            <th>person</th>
            <th>key</th>
            <th>part</th>
            <th>today</th>
            <th>gets</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.placed" :key="one.record">
            <td>{{ one.name }}</td>
            <td class="mono">{{ one.key }}</td>
            <td class="soft">{{ one.part }}</td>
            <td>{{ one.had || '–' }}</td>
            <td>
              <select
                class="box"
                :value="given[one.record] ?? one.group"
                :aria-label="`Group of ${one.name}`"
                @change="
                  (event) =>
                    (given = { ...given, [one.record]: (event.target as HTMLSelectElement).value })
                "
              >
                <option
                  v-for="each in options(one)"
                  :key="each.key.join('/')"
                  :value="each.key.at(-1)"
                >
                  {{ each.label }}
                </option>
              </select>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.asks {
  width: 290px;
  flex: none;
  border-right: 1px solid var(--line);
  padding: 14px 16px;
  overflow-y: auto;
  font-size: 13.5px;
}
.field {
  display: block;
  margin-top: 8px;
}
.field .box {
  display: block;
  width: 100%;
  margin-top: 3px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 14px 0 0;
}
legend {
  font-weight: 600;
  padding: 0;
  margin-bottom: 4px;
}
fieldset label:not(.field) {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}
.do {
  display: flex;
  gap: 8px;
  margin: 18px 0 8px;
}
.page {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  padding: 14px 16px;
  overflow-y: auto;
}
.head {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.flag {
  margin-bottom: 10px;
}
.vessels {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  gap: 12px;
  margin: 6px 0 18px;
  align-items: start;
}
td .box {
  height: 24px;
  padding: 0 6px;
}
</style>
