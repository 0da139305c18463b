<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import LetterDialog from '@/components/letters/LetterDialog.vue'
import LetterHead from '@/components/letters/LetterHead.vue'
import LetterList from '@/components/letters/LetterList.vue'
import LetterPeople from '@/components/letters/LetterPeople.vue'
import NotHere from '@/components/NotHere.vue'
import { useCatalog } from '@/composables/useCatalog'
import { useLetters } from '@/composables/useLetters'
import { usePageTitle } from '@/composables/usePageTitle'
import { reminderOf } from '@/logic/letters'
import { count } from '@/logic/words'

/** What was written to people of a roster, and who has answered. */
const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const name = computed(() => String(route.params.name))
const number = computed(() => Number(route.params.letter) || 0)
const part = computed(() => String(route.query.part ?? ''))
const roster = computed(() => catalog.roster(name.value))
const { all, open, people, left, problem, look, more } = useLetters(name, number, part)
const reminding = ref(false)
const hasMail = computed(() => !!roster.value?.fields.some((one) => one.is_mail))
const show = (where: string) => void router.replace({ query: { part: where || undefined } })
watch(
  all,
  (found) => {
    const first = found?.[0]
    if (!number.value && first) void router.replace(`/rosters/${name.value}/letters/${first.id}`)
  },
  { immediate: true },
)
onMounted(() => void catalog.load().catch((error: Error) => (problem.value = error.message)))
usePageTitle(() => roster.value && `Letters · ${roster.value.title}`)
</script>

<template>
  <NotHere
    v-if="problem && !all"
    title="These letters cannot be opened"
    :problem="problem"
    to="/rosters"
    back="All rosters"
  />
  <template v-else-if="all?.length && roster">
    <LetterList :letters="all" :chosen="number" :roster="roster" />
    <section v-if="open" class="mid" :aria-label="open.letter.title">
      <LetterHead :open="open" :part="part" @part="show" @remind="reminding = true" @done="look" />
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <LetterPeople :open="open" :people="people" :roster="roster" />
      <button v-if="left > 0" class="btn" @click="more">{{ count(left) }} more</button>
    </section>
    <p v-else-if="problem" class="flag stop lone" role="alert">{{ problem }}</p>
    <p v-else class="empty" role="status">Opening the letter …</p>
    <LetterDialog
      v-if="reminding && open"
      :roster="roster"
      :to="{ reminds: open.letter.id, number: open.silent, first: reminderOf(open), hasMail }"
      @close="
        () => {
          reminding = false
          void look()
        }
      "
    />
  </template>
  <section v-else class="mid">
    <div v-if="all" class="empty">
      <h1>Nobody was written to yet</h1>
      <p>
        In the roster, tick people or find them, and choose <b>Write to them …</b>: by mail or on
        paper. They can be asked, each by a link of their own, whether their data are right; who has
        answered and who has not stands here.
      </p>
      <RouterLink class="btn fir" :to="`/rosters/${name}`">{{ roster?.title ?? name }}</RouterLink>
    </div>
    <p v-else class="empty" role="status">Looking what was written …</p>
  </section>
</template>

<style scoped>
.mid {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 12px 18px;
  background: var(--snow);
}
h1 {
  font-size: 18px;
  margin: 0 0 8px;
}
.empty p {
  max-width: 560px;
  margin-inline: auto;
}
.lone {
  margin: 16px;
  align-self: flex-start;
}
</style>
