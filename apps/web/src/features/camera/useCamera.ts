// The simulated camera: what it can photograph, and sending an order.
import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api } from '../../shared/api';

export function useCamera() {
  const navigate = useNavigate();
  const menu = useQuery({ queryKey: ['camera'], queryFn: api.camera, staleTime: Infinity });
  const shoot = useMutation({
    mutationFn: api.shoot,
    onSuccess: (job) => void navigate(`/jobs/${job.id}/frames`),
  });
  return { menu, shoot };
}
