import { computed, ref, shallowRef, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import type { Family, FamilyDetail, Intake } from '@/api/types'
import { familyPeople, tellingOf, type Changed } from './useChanges'
import { useCatalog } from './useCatalog'
import { useIntake } from './useIntake'

/** The first people of one kind of change, of which the largest comes first. */
export function useApplyPeople(props: { intake: Intake; families: Family[] }) {
  /** How many are shown beside the sentences; on a large screen more. */
  const shown = () => (wide.value ? 28 : 14)
  const catalog = useCatalog()
  const { revision } = useIntake()
  const chosen = ref('')
  const people = shallowRef<Changed[]>([])
  const detail = shallowRef<FamilyDetail | null>(null)
  const total = ref(0)
  const kinds = computed(() =>
    props.families.filter((one) => one.count).sort((a, b) => b.count - a.count),
  )
  const key = computed(() =>
    kinds.value.some((one) => one.key === chosen.value)
      ? chosen.value
      : (kinds.value[0]?.key ?? ''),
  )
  const field = computed(() => catalog.field(props.intake.roster, key.value))
  const wide = useMediaQuery('(width >= 1500px)')
  const telling = computed(() =>
    tellingOf(catalog.roster(props.intake.roster)).slice(0, wide.value ? 3 : 1),
  )
  const columns = computed(() =>
    key.value === 'join'
      ? telling.value.map((one) => one.name)
      : [key.value === 'absent' || key.value === 'beside' ? 'act' : key.value],
  )
  const column = (name: string) => ({ key: name, title: '', width: '' })

  async function load(): Promise<void> {
    const asked = key.value
    if (!asked) return
    if (field.value?.code_list) await catalog.loadList(field.value.code_list).catch(() => undefined)
    const found = await familyPeople(props.intake.id, asked, telling.value, 0, shown()).catch(
      () => null,
    )
    if (asked !== key.value || !found) return
    people.value = found.rows
    detail.value = found.detail
    total.value = found.total
  }
  watch([revision, key, telling], () => void load(), { immediate: true })
  return { chosen, people, detail, total, kinds, key, field, telling, columns, column }
}
