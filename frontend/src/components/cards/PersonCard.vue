<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import CardFace from './CardFace.vue'
import CardLife from './CardLife.vue'
import FrameDialog from './FrameDialog.vue'
import { forgetPhoto, layCard } from '@/api/cards'
import type { Card, CardDesign, CardPerson } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { sayFinding, sizeOf, type DesignDocument } from '@/logic/design'

/** Somebody's card as it would be, what keeps it back, and the cards that they have. */
const props = defineProps<{ design: CardDesign; person: CardPerson }>()
const emit = defineEmits<{ make: [anew: boolean]; photos: [] }>()

const cards = useCards()
const card = ref<Card | null>(null)
const back = ref(false)
const framing = ref(false)
const size = computed(() => sizeOf(props.design.document as unknown as DesignDocument))
const side = computed(() => (back.value ? card.value?.back : card.value?.front))
const face = computed(() =>
  (props.design.document as unknown as DesignDocument).faces.find(
    (one) => one.name === card.value?.face,
  ),
)
const whys = computed(() => [
  ...(card.value?.front.findings ?? []).map((one) => sayFinding(face.value?.front ?? [], one)),
  ...(card.value?.back.findings ?? []).map((one) => sayFinding(face.value?.back ?? [], one)),
])
const can = computed(() => ['make', 'anew'].includes(props.person.need))

watch(
  () => [props.person.record, cards.turn.value],
  async () => {
    if (!props.person.record) return
    card.value = (await layCard(cards.name, null, props.person.record, '')).card
  },
  { immediate: true },
)
const forget = () => cards.act(() => forgetPhoto(props.person.record))
</script>

<template>
  <aside class="side" :aria-label="person.name || person.key">
    <h2>{{ person.name || person.key }}</h2>
    <p class="soft mono">{{ person.key }}</p>
    <template v-if="card && side">
      <CardFace
        :side="side"
        :size="size"
        :record="card.record"
        :frame="card.frame"
        :label="`The card of ${card.name}, ${back ? 'back' : 'front'}`"
      />
      <p class="turn">
        <button v-if="card.back.marks.length" class="link" @click="back = !back">
          {{ back ? 'Front' : 'Back' }}</button><template v-if="card.has_photo && design.may_change"
          ><button class="link" @click="framing = true">Move the frame</button
          ><button class="link" @click="forget">Forget the photograph</button></template
        >
      </p>
      <ul v-if="whys.length" class="findings">
        <li v-for="why in whys" :key="why" class="flag stop">{{ why }}</li>
      </ul>
    </template>
    <p v-if="design.may_change && person.record" class="do">
      <button v-if="can" class="btn main" @click="emit('make', false)">Make this card</button>
      <button v-else-if="person.need === 'photo'" class="btn fir" @click="emit('photos')">
        Bring a photograph …
      </button>
      <RouterLink
        v-else-if="person.need === 'unfit'"
        class="btn fir"
        :to="`/cards/${design.name}/design?record=${person.record}`"
        >Change the design</RouterLink
      >
      <button v-else class="btn" @click="emit('make', true)">Make it anew all the same …</button>
    </p>
    <FrameDialog v-if="framing && card" :card="card" @close="framing = false" />
    <CardLife :held="person.cards" :may-change="design.may_change" />
  </aside>
</template>

<style scoped>
.side {
  width: 330px;
  flex: none;
  border-left: 1px solid var(--line);
  padding: 12px 16px;
  overflow-y: auto;
  background: var(--snow);
}
.turn {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  white-space: nowrap;
  margin: 4px 0;
}
.turn .link {
  min-height: 24px;
}
.do {
  margin: 10px 0;
}
.findings li {
  margin-top: 4px;
}
</style>
